/**
 * Walking a session: the sheet made ready by the server says what there is, and what happened says where the session stands.
 * The core walks the same sheet in the same way; a test holds the two against each other.
 */
import type { DayDose, FloorEvent, FloorSheet, Pain } from "../api/client";

/** One thing that happened, as far as it is said. */
export type Happened = Pick<FloorEvent, "kind"> & Partial<FloorEvent>;
/** What became of a block so far. */
export type Status = "waiting" | "done" | "skipped" | "dropped";

/** One block as it stands: which variant, how many sets, why it changed. */
export interface SlotNow {
  key: string;
  sets: number;
  done: number;
  status: Status;
  /** Where the dial stands among its settings. */
  at: number | null;
  why: string;
}

/** A whole session as it stands. */
export interface FloorNow {
  slots: SlotNow[];
  present: number | null;
  /** The joints that must not be loaded any more. */
  spared: string[];
}

/** Walk a session's sheet by its events; the same table and the same walk as the core's. */
export function walkFloor(sheet: FloorSheet, events: Happened[]): FloorNow {
  let slots = sheet.slots.map((slot) => begin(sheet, slot.planned));
  // joints that must not be loaded any more today, each with the words that say so
  const spared = new Map<string, string>();
  for (const event of events) {
    if (event.kind === "ready") slots = ready(sheet, slots, event);
    if (event.kind === "ready" || event.kind === "pain") {
      for (const pain of event.pains ?? []) {
        slots = hurt(sheet, slots, pain);
        remember(sheet, spared, pain);
      }
      slots = slots.map((now) => spare(sheet, now, spared));
    } else if (event.slot != null && slots[event.slot] && !wouldLoad(sheet, event, spared)) {
      const { slot } = event;
      slots = slots.map((now, n) => (n === slot ? ofSlot(sheet, now, event) : now));
    }
  }
  const present = slots.findIndex((s) => s.status === "waiting");
  return { slots, present: present < 0 ? null : present, spared: [...spared.keys()] };
}

/** What the next set asks for after so many; nothing of an open one, and where each try or window is itself what is measured. */
export function askedOf(dose: DayDose, done: number): number | null {
  const first = done < dose.sides;
  const measured = dose.way === "singles" || dose.way === "touches" || dose.way === "stretch";
  if (dose.measure === "rate" || measured || dose.mode != null) return null;
  if (first && dose.open_set) return null;
  return first && dose.first != null ? dose.first : dose.each;
}

function begin(sheet: FloorSheet, key: string, why = "", fewest = false): SlotNow {
  const dose = sheet.variants[key]?.dose;
  return {
    key,
    // one after the other: each side is a set of its own
    sets: dose ? (fewest ? dose.least : dose.sets) * dose.sides : 1,
    done: 0,
    status: "waiting",
    at: dose?.dial ? dose.dial.at : null,
    why,
  };
}

function ready(sheet: FloorSheet, slots: SlotNow[], event: Happened): SlotNow[] {
  const rules = sheet.changes;
  return slots.map((now, n) => {
    const slot = sheet.slots[n];
    if (slot?.kind !== "work" || now.status !== "waiting" || now.done) return now;
    let next = now;
    if (event.energy != null && event.energy <= rules.poor_energy)
      next = slot.back ? begin(sheet, slot.back, rules.poor, true) : begin(sheet, now.key, rules.fewer, true);
    else if (event.energy != null && event.energy >= rules.good_energy && slot.ahead)
      next = { ...now, why: rules.good };
    const variant = sheet.variants[next.key];
    if (
      event.confidence != null &&
      event.confidence <= rules.low_confidence &&
      variant?.inverted &&
      variant.shy
    )
      next = begin(sheet, variant.shy, rules.shy, true);
    return next;
  });
}

const stops = (sheet: FloorSheet, pain: Pain) => pain.sharp || pain.level >= sheet.changes.stops_at;
const toldOf = (pain: Pain) =>
  `${pain.joint.charAt(0).toUpperCase()}${pain.joint.slice(1)} ${pain.level} of 10`;

/** A joint that must not be loaded stays so for the session, until it is told to be well. */
function remember(sheet: FloorSheet, spared: Map<string, string>, pain: Pain) {
  if (stops(sheet, pain)) spared.set(jointKind(pain.joint), `${toldOf(pain)}: ${sheet.changes.much}`);
  else if (pain.level === 0) spared.delete(jointKind(pain.joint));
}

function spare(sheet: FloorSheet, now: SlotNow, spared: Map<string, string>): SlotNow {
  const joint = sheet.variants[now.key]?.joints.find((j) => spared.has(j));
  if (joint === undefined || now.status !== "waiting") return now;
  return { ...now, status: "dropped", why: spared.get(joint) ?? "" };
}

/** Whether another variant is chosen that loads a joint which must not be loaded. */
const wouldLoad = (sheet: FloorSheet, event: Happened, spared: Map<string, string>) =>
  event.kind === "choose" && (sheet.variants[event.key ?? ""]?.joints ?? []).some((j) => spared.has(j));

const jointKind = (joint: string) => joint.slice(joint.lastIndexOf(" ") + 1);

function hurt(sheet: FloorSheet, slots: SlotNow[], pain: Pain): SlotNow[] {
  const rules = sheet.changes;
  if (pain.level <= 0 && !pain.sharp) return slots;
  const stop = stops(sheet, pain);
  const told = toldOf(pain);
  const found = [...slots];
  for (const [n, now] of slots.entries()) {
    const variant = sheet.variants[now.key];
    if (now.status !== "waiting" || !variant?.joints.includes(jointKind(pain.joint))) continue;
    // the same drill stands in once, and not beside itself
    const instead = variant.lighter ? sheet.variants[variant.lighter]?.drill : undefined;
    const elsewhere = found.some(
      (s, k) =>
        k !== n &&
        (s.status === "waiting" || s.status === "done") &&
        sheet.variants[s.key]?.drill === instead,
    );
    if (stop) found[n] = { ...now, status: "dropped", why: `${told}: ${rules.much}` };
    else if (sheet.slots[n]?.kind === "prepare" && !variant.inverted)
      found[n] = { ...now, why: `${told}: ${rules.some}` };
    else if (variant.lighter && !elsewhere)
      found[n] = begin(sheet, variant.lighter, `${told}: ${variant.lighter_words}.`, true);
    else {
      const spare = variant.lighter
        ? "what would be lighter stands in the session already"
        : rules.none_lighter;
      found[n] = { ...now, status: "dropped", why: `${told}: ${spare}.` };
    }
  }
  return found;
}

function ofSlot(sheet: FloorSheet, now: SlotNow, event: Happened): SlotNow {
  const waiting = now.status === "waiting";
  if (event.kind === "why" || event.kind === "cue") return now;
  if (event.kind === "skip") return waiting ? { ...now, status: "skipped" } : now;
  if (event.kind === "next") return waiting ? { ...now, status: "done" } : now;
  if (event.kind === "choose") {
    if (!waiting || !event.key || !sheet.variants[event.key]) return now;
    const begun = begin(sheet, event.key);
    return { ...begun, done: now.done, sets: Math.max(now.done + 1, begun.sets), why: event.how ?? "" };
  }
  const done = now.done + 1;
  return {
    ...now,
    done,
    at: dial(sheet, now, event),
    status: done >= now.sets && waiting ? "done" : now.status,
  };
}

function dial(sheet: FloorSheet, now: SlotNow, event: Happened): number | null {
  const dose = sheet.variants[now.key]?.dose;
  if (now.at === null || !dose?.dial) return now.at;
  const missed = event.form === "lost" || (dose.way !== "singles" && !event.value);
  if (missed) return Math.max(0, now.at - 1);
  const clean = event.form == null || event.form === "clean";
  if (dose.way === "staircase" && clean && (event.value ?? 0) >= sheet.changes.clean_to_step)
    return Math.min(dose.dial.steps.length - 1, now.at + 1);
  return now.at;
}
