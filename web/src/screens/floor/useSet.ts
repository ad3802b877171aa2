import { useCallback, useEffect, useRef, useState } from "react";
import type { DayDose, FloorSlot, Form, Variant } from "../../api/client";
import type { FloorNow, SlotNow } from "../../live/floor";
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
import { useNow } from "../../live/useNow";

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

/** The set in hand of a session: its clock, its count, and what keeps it. */
export function useSet(session: LiveSession) {
  const place: FloorNow = whereSession(session);
  const n = place.present;
  const now: SlotNow | null = n === null ? null : (place.slots[n] ?? null);
  const slot: FloorSlot | null = n === null ? null : (session.sheet.slots[n] ?? null);
  const variant: Variant | null = now ? (session.sheet.variants[now.key] ?? null) : null;
  const dose = variant?.dose ?? null;
  const takes = takesOf(dose);
  const of = takes === "minute" ? `${n} ${now?.key}` : `${n} ${now?.key} ${now?.done}`;
  const [hand, setHandState] = useState<Hand | null>(() => readHand(session.id));
  const mine = hand?.of === of ? hand : null;
  const setHand = useCallback(
    (next: Hand | null) => {
      writeHand(session.id, next);
      setHandState(next);
    },
    [session.id],
  );

  const inBlock = standing(session).filter((e) => e.what.kind === "set" && e.what.slot === n);
  const sets = inBlock.filter((e) => e.what.key === now?.key);
  const last = inBlock.at(-1);
  const rests = dose !== null && !dose.every_minute && takes !== "done";
  const rested = rests && last ? new Date(last.at).getTime() + dose.rest_s * 1000 : 0;
  const going = mine?.since !== undefined && mine.stopped === undefined;
  const moment = useNow(n !== null && (going || (!mine?.since && Date.now() < rested)));
  const restLeft = Math.max(0, Math.ceil((rested - moment) / 1000));
  const passed = mine?.since ? tenths(moment - mine.since) : 0;
  const phase: SetPhase =
    n === null
      ? "over"
      : mine?.stopped !== undefined
        ? "stopped"
        : going
          ? "going"
          : restLeft > 0
            ? "rest"
            : "ready";
  const target = dose ? (now?.done === 0 && dose.first ? dose.first : dose.each) : 0;
  const limit = takes === "touches" ? (dose?.window_s ?? null) : takes === "stretch" ? target : null;
  const count = mine?.count ?? (takes === "touches" ? 0 : target);
  const seconds = mine?.stopped ?? passed;
  const minute = Math.min(now?.sets ?? 1, Math.floor(passed / MINUTE_S) + 1);
  const minuteLeft = Math.ceil(MINUTE_S - (passed % MINUTE_S));

  const start = useCallback(() => {
    sound("start");
    setHand({ of, since: Date.now(), ...(takes === "touches" ? { count: 0 } : {}) });
  }, [of, takes, setHand]);
  const stop = useCallback(() => {
    const held = readHand(session.id);
    if (held?.of !== of || held.since === undefined || held.stopped !== undefined) return;
    const ran = tenths(Date.now() - held.since);
    setHand({ ...held, stopped: limit === null ? ran : Math.min(ran, limit) });
    sound("stop");
  }, [session.id, of, limit, setHand]);
  const step = useCallback(
    (by: number) => {
      const held = readHand(session.id);
      const base = held?.of === of ? held : { of };
      const was = base.count ?? (takes === "touches" ? 0 : target);
      setHand({ ...base, count: Math.max(0, was + by) });
      if (takes === "touches") sound("touch");
    },
    [session.id, of, takes, target, setHand],
  );

  const after = mine?.after ?? dose?.then?.each ?? 0;
  const stepAfter = useCallback(
    (by: number) => {
      const held = readHand(session.id);
      const base = held?.of === of ? held : { of };
      setHand({ ...base, after: Math.max(0, (base.after ?? dose?.then?.each ?? 0) + by) });
    },
    [session.id, of, dose, setHand],
  );

  const keep = useCallback(
    (form: Form) => {
      if (n === null || !now || !variant || !dose) return;
      const held = readHand(session.id);
      const own = held?.of === of ? held : null;
      const ran = own?.stopped ?? (own?.since ? tenths(Date.now() - own.since) : null);
      const value = valueKept(takes, form, ran, own?.count ?? count);
      const dial = dose.dial && now.at !== null ? dose.dial.steps[now.at] : undefined;
      const side = dose.sides > 1 ? (now.done % 2 === 0 ? "left" : "right") : null;
      happen(
        session,
        {
          kind: "set",
          slot: n,
          key: now.key,
          value,
          form: takes === "single" && form === "lost" ? "lost" : form,
          setting: dial?.setting ?? null,
          side,
          then_value: dose.then ? (own?.after ?? dose.then.each) : null,
        },
        `${variant.title}, set ${now.done + 1}`,
      );
      if (takes !== "minute") setHand(null);
    },
    [session, n, now, variant, dose, takes, of, count, setHand],
  );
  const finish = useCallback(() => {
    if (n === null || !now || !variant) return;
    const kind = now.done > 0 || takes === "done" ? "next" : "skip";
    happen(session, { kind, slot: n }, `${variant.title} ${kind === "next" ? "done" : "left out"}`);
    setHand(null);
  }, [session, n, now, variant, takes, setHand]);

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
    seconds,
    target,
    count,
    after,
    stepAfter,
    sets,
    minute,
    minuteLeft,
    limit,
    last,
    begun: mine?.since !== undefined,
    start,
    stop,
    step,
    keep,
    finish,
    drop: () => setHand(null),
  };
}

/** What `useSet` gives. */
export type SetInHand = ReturnType<typeof useSet>;

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
