import { useCallback, useEffect, useRef, useState } from "react";
import type { DayDose, FloorSlot, Form, Variant } from "../../api/client";
import { askedOf, type FloorNow, type SlotNow } from "../../live/floor";
import {
  type Hand,
  happen,
  type LiveSession,
  readHand,
  standing,
  whereSession,
  writeHand,
} from "../../live/session";
import { sound } from "../../live/sounds";
import { useCounting } from "../../live/useCounting";
import { secondOf, useNow } from "../../live/useNow";

/** Where the set in hand stands. */
export type SetPhase = "ready" | "rest" | "going" | "stopped" | "over";
/** How a set is written down: by a clock, by counting, by yes and no, minute by minute, or only as done. */
export type Takes = "clock" | "touches" | "count" | "single" | "minute" | "stretch" | "done";

/** How sets of a dose are written down. */
export function takesOf(dose: DayDose | null): Takes {
  if (!dose) return "done";
  if (dose.way === "minute") return "minute";
  if (dose.way === "touches") return "touches";
  if (dose.way === "stretch") return "stretch";
  if (dose.way === "singles" && dose.measure !== "hold") return "single";
  return dose.measure === "hold" || dose.measure === "lowering" ? "clock" : "count";
}

const tenths = (ms: number) => Math.floor(Math.max(0, ms) / 100) / 10;
const MINUTE_S = 60;

/** What is done with a set before it is kept, held in the browser's storage so that a reload loses nothing. */
function useHand(session: string, of: string) {
  const [hand, setHandState] = useState<Hand | null>(() => readHand(session));
  const setHand = useCallback(
    (next: Hand | null) => {
      writeHand(session, next);
      setHandState(next);
    },
    [session],
  );
  /** What is held now, if it belongs to this set: the page may be older than the storage. */
  const held = useCallback((): Hand | null => {
    const now = readHand(session);
    return now?.of === of ? now : null;
  }, [session, of]);
  return { mine: hand?.of === of ? hand : null, held, setHand };
}

interface ClockProps {
  over: boolean;
  mine: Hand | null;
  /** When the rest before this set is through, ms; 0 where there is none. */
  rested: number;
  /** What the set may last, s. */
  limit: number | null;
}

/** The one clock of a set: what is left of the rest before it, then how long it has gone on. */
function useSetClock({ over, mine, rested, limit }: ClockProps) {
  const going = mine?.since !== undefined && mine.stopped === undefined;
  const runs = !over && (going || (!mine?.since && Date.now() < rested));
  const moment = useNow(runs, secondOf({ since: mine?.since, until: rested, limit }));
  const restLeft = Math.max(0, Math.ceil((rested - moment) / 1000));
  const passed = mine?.since ? tenths(moment - mine.since) : 0;
  const waiting: SetPhase = restLeft > 0 ? "rest" : "ready";
  const phase: SetPhase = over ? "over" : mine?.stopped !== undefined ? "stopped" : going ? "going" : waiting;
  return { going, restLeft, passed, phase };
}

/** Where the session is: the block, what is done in it, and how its sets are written down. */
function placeOf(session: LiveSession) {
  const place: FloorNow = whereSession(session);
  const n = place.present;
  const now: SlotNow | null = n === null ? null : (place.slots[n] ?? null);
  const slot: FloorSlot | null = n === null ? null : (session.sheet.slots[n] ?? null);
  const variant: Variant | null = now ? (session.sheet.variants[now.key] ?? null) : null;
  const dose = variant?.dose ?? null;
  const takes = takesOf(dose);
  const of = takes === "minute" ? `${n} ${now?.key}` : `${n} ${now?.key} ${now?.done}`;
  return { place, n, now, slot, variant, dose, takes, of };
}

/** The set in hand of a session: its clock, its count, and what keeps it. */
export function useSet(session: LiveSession) {
  const { place, n, now, slot, variant, dose, takes, of } = placeOf(session);
  const { mine, held, setHand } = useHand(session.id, of);
  const inBlock = standing(session).filter((e) => e.what.kind === "set" && e.what.slot === n);
  const last = inBlock.at(-1);
  const rests = dose !== null && !dose.every_minute && takes !== "done";
  const rested = rests && last ? new Date(last.at).getTime() + dose.rest_s * 1000 : 0;
  // each side has a first set of its own
  const isFirst = now !== null && now.done < (dose?.sides ?? 1);
  // an open set goes on as long, or as often, as it stays clean; its ceiling ends it
  const ceiling = isFirst && dose?.open_set ? (dose.ceiling ?? null) : null;
  const target = dose ? (ceiling ?? (isFirst && dose.first ? dose.first : dose.each)) : 0;
  const windowS = takes === "touches" ? (dose?.window_s ?? null) : takes === "stretch" ? target : null;
  const limit = windowS ?? (takes === "clock" ? ceiling : null);
  const { going, restLeft, passed, phase } = useSetClock({ over: n === null, mine, rested, limit });
  useCounting(going, passed);
  const unmarked = takes === "touches" ? 0 : ceiling === null ? target : (dose?.each ?? 0);
  const count = mine?.count ?? unmarked;
  const minute = Math.min(now?.sets ?? 1, Math.floor(passed / MINUTE_S) + 1);
  const asAsked = dose?.then?.each ?? 0;

  const start = () => {
    sound("start");
    setHand({ of, since: Date.now(), ...(takes === "touches" ? { count: 0 } : {}) });
  };
  const stop = useCallback(() => {
    const own = held();
    if (own?.since === undefined || own.stopped !== undefined) return;
    const ran = tenths(Date.now() - own.since);
    setHand({ ...own, stopped: limit === null ? ran : Math.min(ran, limit) });
    sound("stop");
  }, [held, limit, setHand]);
  const step = (by: number) => {
    const base = held() ?? { of };
    setHand({ ...base, count: Math.max(0, (base.count ?? unmarked) + by) });
    if (takes === "touches") sound("touch");
  };
  const stepAfter = (by: number) => {
    const base = held() ?? { of };
    setHand({ ...base, after: Math.max(0, (base.after ?? asAsked) + by) });
  };
  const keep = (form: Form) => {
    if (n === null || !now || !variant || !dose) return;
    const what = {
      kind: "set" as const,
      slot: n,
      ...setKept({ now, dose, takes, form, own: held(), count }),
    };
    happen(session, what, `${variant.title}, set ${now.done + 1}`);
    if (takes !== "minute") setHand(null);
  };
  const finish = () => {
    if (n === null || !now || !variant) return;
    const kind = now.done > 0 || takes === "done" ? "next" : "skip";
    happen(session, { kind, slot: n }, `${variant.title} ${kind === "next" ? "done" : "left out"}`);
    setHand(null);
  };

  // the window closes and the stretch is over without anybody's hand
  useEffect(() => {
    if (phase === "going" && limit !== null && passed >= limit) stop();
  }, [phase, limit, passed, stop]);
  useTones({
    phase,
    restLeft,
    reached: takes === "clock" && phase === "going" && passed >= target,
    minute: takes === "minute" && going ? minute : 0,
  });

  return {
    ...{
      place,
      n,
      now,
      slot,
      variant,
      dose,
      takes,
      phase,
      restLeft,
      passed,
      target,
      count,
      minute,
      limit,
      last,
      ceiling,
    },
    seconds: mine?.stopped ?? passed,
    after: mine?.after ?? asAsked,
    sets: inBlock.filter((e) => e.what.key === now?.key),
    minuteLeft: Math.ceil(MINUTE_S - (passed % MINUTE_S)),
    begun: mine?.since !== undefined,
    since: going ? mine?.since : undefined,
    ...{ start, stop, step, stepAfter, keep, finish },
    drop: () => setHand(null),
  };
}

/** What `useSet` gives. */
export type SetInHand = ReturnType<typeof useSet>;

interface KeptProps {
  now: SlotNow;
  dose: DayDose;
  takes: Takes;
  form: Form;
  own: Hand | null;
  count: number;
}

/** A set as it is kept: its figure, form, setting, side and what followed it. */
function setKept({ now, dose, takes, form, own, count }: KeptProps) {
  const ran = own?.stopped ?? (own?.since ? tenths(Date.now() - own.since) : null);
  const dial = dose.dial && now.at !== null ? dose.dial.steps[now.at] : undefined;
  return {
    key: now.key,
    value: valueKept(takes, form, ran, own?.count ?? count),
    asked: askedOf(dose, now.done),
    form,
    setting: dial?.setting ?? null,
    side: dose.sides > 1 ? (now.done % 2 === 0 ? ("left" as const) : ("right" as const)) : null,
    then_value: dose.then ? (own?.after ?? dose.then.each) : null,
  };
}

function valueKept(takes: Takes, form: Form, ran: number | null, count: number): number | null {
  if (takes === "stretch") return null;
  if (takes === "single") return form === "clean" ? 1 : 0;
  if (takes === "clock") return ran ?? 0;
  return form === "lost" && takes !== "touches" ? 0 : count;
}

interface Heard {
  phase: SetPhase;
  restLeft: number;
  reached: boolean;
  minute: number;
}

/** Tones for hands that are busy: the last seconds of a rest, its end, the time that was asked for, each new minute. */
function useTones({ phase, restLeft, reached, minute }: Heard) {
  const before = useRef<Heard>({ phase, restLeft, reached, minute });
  useEffect(() => {
    const was = before.current;
    before.current = { phase, restLeft, reached, minute };
    if (phase === "rest" && restLeft !== was.restLeft && restLeft <= 3) sound("soon");
    if (was.phase === "rest" && phase === "ready") sound("start");
    if (reached && !was.reached) sound("switch");
    if (minute > was.minute && was.minute > 0) sound("start");
  }, [phase, restLeft, reached, minute]);
}
