import { useCallback, useEffect, useRef, useState } from "react";
import type { Form, Mark, Mode } from "../../api/client";
import {
  addTry,
  type Hold,
  type LiveRun,
  modeOf,
  readHold,
  standingTries,
  takeBack,
  tenths,
  whereNow,
  writeHold,
} from "../../live/run";
import type { Now } from "../../live/sheet";
import { sound } from "../../live/sounds";
import { useCounting } from "../../live/useCounting";
import { secondOf, useNow } from "../../live/useNow";

/** Where the try in hand stands. */
export type Phase = "ready" | "rest" | "going" | "stopped" | "over";

/** The try in hand of a run: its clock, its count, and what can be done with it. All the rules are the sheet's. */
export function useTry(run: LiveRun) {
  const [hold, setHoldState] = useState<Hold | null>(() => readHold(run.id));
  const [pick, setPick] = useState<{ at: string; n: number }>({ at: "", n: 0 });
  const { test } = run.protocol;
  const tries = standingTries(run);
  const place: Now = whereNow(run);
  const mode: Mode = modeOf(test, place.step?.mode ?? tries.at(-1)?.mode ?? "");
  const setHold = useCallback(
    (next: Hold | null) => {
      writeHold(run.id, next);
      setHoldState(next);
    },
    [run.id],
  );

  const over = place.step === null;
  const going = hold !== null && hold.stopped === undefined;
  const window = mode.window_s?.value ?? null;
  const ceiling = mode.ceiling?.value ?? null;
  const limit = window ?? ceiling;
  const { phase, restLeft, passed } = useTryClock({ run, mode, over, hold, last: tries.at(-1), limit });
  const counted = mode.takes === "window" || mode.takes === "count";
  const value = hold ? (hold.stopped ?? (counted ? hold.count : passed)) : null;
  const levels = place.step?.levels ?? [];
  const key = `${tries.length} ${place.step?.mode ?? ""}`;
  const level = levels[pick.at === key ? pick.n : 0] ?? null;
  const early = phase === "rest";

  const stop = useCallback(() => {
    const h = readHold(run.id);
    if (!h || h.stopped !== undefined) return;
    const ran = tenths(Date.now() - h.since);
    const figure = counted ? h.count : ceiling === null ? ran : Math.min(ran, ceiling);
    setHold({ ...h, stopped: figure });
    sound("stop");
  }, [run.id, counted, ceiling, setHold]);

  // the window closes and the ceiling is reached without anybody's hand
  useEffect(() => {
    if (going && limit !== null && passed >= limit) stop();
  }, [going, limit, passed, stop]);

  useTones(phase, restLeft, place.switched);
  useCounting(going, passed);

  return {
    tries,
    place,
    mode,
    phase,
    hold,
    value,
    level,
    levels,
    restLeft,
    passed,
    timeLeft: window === null ? null : Math.max(0, Math.ceil(window - passed)),
    start: () => {
      setHold({ since: Date.now(), count: 0, early, form: hold?.form ?? null });
      sound("start");
    },
    stop,
    count: (by: number) => {
      const h = readHold(run.id);
      if (!h || h.count + by < 0) return;
      // the window may have closed since the page was last drawn
      if (h.stopped === undefined && window !== null && Date.now() - h.since >= window * 1000) return stop();
      const stopped = h.stopped === undefined ? {} : { stopped: h.count + by };
      setHold({ ...h, count: h.count + by, ...stopped });
      sound("touch");
    },
    setValue: (figure: number) =>
      setHold({ since: Date.now(), count: 0, early, form: hold?.form ?? null, ...hold, stopped: figure }),
    mark: (form: Form) => hold && setHold({ ...hold, form: hold.form === form ? null : form }),
    keep: (mark: Mark) => {
      if (over) return;
      const h = readHold(run.id);
      const ran = h ? (h.stopped ?? (counted ? h.count : tenths(Date.now() - h.since))) : null;
      if (mark.figure && ran === null) return;
      const figure = mark.figure && ran !== null ? (ceiling === null ? ran : Math.min(ran, ceiling)) : null;
      addTry(run, {
        outcome: mark.outcome,
        value: figure,
        fell: mark.fell,
        form: h?.form ?? null,
        level,
        early: h?.early ?? early,
      });
      setHold(null);
    },
    undo: () => {
      if (hold) return setHold(null);
      takeBack(run);
      // a choice by hand stands in the browser's storage; drawing again reads it
      setPick({ at: "", n: 0 });
    },
    drop: () => setHold(null),
    chooseLevel: (n: number) => setPick({ at: key, n }),
  };
}

interface ClockProps {
  run: LiveRun;
  mode: Mode;
  over: boolean;
  hold: Hold | null;
  last: { at: string } | undefined;
  /** What the try may last, s. */
  limit: number | null;
}

/** The one clock of a try: what is left of the rest before it, then how long it has gone on. */
function useTryClock({ run, mode, over, hold, last, limit }: ClockProps) {
  // a reading can be taken again at once
  const rested =
    last && !run.paper && mode.takes !== "number" ? new Date(last.at).getTime() + run.restS * 1000 : 0;
  const going = hold !== null && hold.stopped === undefined;
  const runs = !over && (hold ? going : Date.now() < rested);
  const now = useNow(runs, secondOf({ since: hold?.since, until: rested, limit }));
  const restLeft = Math.ceil((rested - now) / 1000);
  const phase: Phase = over ? "over" : hold ? (going ? "going" : "stopped") : restLeft > 0 ? "rest" : "ready";
  return { phase, restLeft, passed: hold ? tenths(now - hold.since) : 0 };
}

/** The last three seconds of a rest are heard, and a change to another way of measuring. */
function useTones(phase: Phase, restLeft: number, switched: boolean) {
  const heard = useRef(0);
  useEffect(() => {
    if (phase === "rest" && restLeft <= 3 && heard.current !== restLeft) {
      heard.current = restLeft;
      sound("soon");
    }
    if (phase !== "rest") heard.current = 0;
  }, [phase, restLeft]);
  useEffect(() => {
    if (switched) sound("switch");
  }, [switched]);
}

/** What `useTry` gives. */
export type TryInHand = ReturnType<typeof useTry>;
