import { useEffect, useState } from "react";
import type { Fell, Form, JudgedRun, Outcome, ScoredRun } from "../../api/client";
import { TryStrip } from "../../drawings/TryStrip";
import {
  addTry,
  endRun,
  type Hold,
  type LiveRun,
  readHold,
  standingTries,
  takeBack,
  tenths,
  writeHold,
} from "../../live/run";
import { useAwake } from "../../live/useAwake";
import { useKeys } from "../../live/useKeys";
import { useNow } from "../../live/useNow";
import { Button } from "../../parts/Button";
import { FORMS } from "../../parts/words";
import { PainStop } from "./PainStop";
import { SoFar } from "./SoFar";

export const TRIES = 10;

interface Props {
  run: LiveRun;
  judged: JudgedRun | undefined;
  waiting: number;
  last: ScoredRun | undefined;
}

/** Three in a row on a phone, four beside one another elsewhere. */
const PLACE = "col-span-3 max-sm:col-span-4";

type Phase = "ready" | "rest" | "holding" | "stopped" | "full";

/** The test while it runs: one big figure, one key a result, the strip growing. */
export function Live({ run, judged, waiting, last }: Props) {
  const [hold, setHoldState] = useState<Hold | null>(() => readHold(run.id));
  const [pain, setPain] = useState(false);
  const tries = standingTries(run);
  const setHold = (next: Hold | null) => {
    writeHold(run.id, next);
    setHoldState(next);
  };
  useAwake(true);

  const rested = tries.at(-1) ? new Date(tries.at(-1)?.at ?? 0).getTime() + run.restS * 1000 : 0;
  const full = tries.length >= TRIES;
  const now = useNow(!full && (hold ? hold.stopped === undefined : Date.now() < rested));
  const restLeft = Math.ceil((rested - now) / 1000);
  const phase: Phase = hold
    ? hold.stopped === undefined
      ? "holding"
      : "stopped"
    : full
      ? "full"
      : restLeft > 0
        ? "rest"
        : "ready";
  const seconds = hold ? (hold.stopped ?? tenths(now - hold.since)) : null;

  const early = phase === "rest";
  const start = () => setHold({ since: Date.now(), early, form: null });
  const stop = () => hold && setHold({ ...hold, stopped: tenths(Date.now() - hold.since) });
  const keepHeld = (fell: Fell | null) => {
    if (!hold) return;
    const held = hold.stopped ?? tenths(Date.now() - hold.since);
    addTry(run, { outcome: "held", seconds: held, fell, form: hold.form, early: hold.early }, TRIES);
    setHold(null);
  };
  const keepPassed = (outcome: Outcome) => {
    if (full) return;
    addTry(run, { outcome, seconds: null, fell: null, form: null, early: hold?.early ?? early }, TRIES);
    setHold(null);
  };
  const undo = () => (hold ? setHold(null) : takeBack(run));
  const finish = () => endRun(run, { ended_as: full ? "finished" : "stopped" });
  const mark = (form: Form) => () => hold && setHold({ ...hold, form: hold.form === form ? null : form });

  const main = { holding: stop, ready: start, rest: start, stopped: () => keepHeld(null), full: finish }[
    phase
  ];
  useKeys({
    " ": phase === "stopped" || phase === "full" ? undefined : main,
    PageDown: phase === "stopped" ? undefined : main,
    Enter: phase === "stopped" || phase === "full" ? main : undefined,
    ArrowLeft: hold ? () => keepHeld("under") : undefined,
    ArrowRight: hold ? () => keepHeld("over") : undefined,
    ArrowDown: hold ? () => keepHeld("down") : undefined,
    o: full ? undefined : () => keepPassed("overshot"),
    u: full ? undefined : () => keepPassed("undershot"),
    c: hold ? mark("clean") : undefined,
    l: hold ? mark("loose") : undefined,
    x: hold ? mark("lost") : undefined,
    z: hold || tries.length ? undo : undefined,
    p: () => setPain(true),
  });
  useEffect(() => {
    document.title = `${phase === "holding" ? "Holding" : `Try ${tries.length + 1}`} · Wise Perch`;
    return () => {
      document.title = "Wise Perch";
    };
  }, [phase, tries.length]);

  const exits = judged?.exits;
  return (
    <>
      <div className="flex flex-wrap items-baseline justify-between gap-x-6">
        <h1 className="text-2xl">Ten free tries</h1>
        <p className="text-soft max-sm:hidden">
          open floor · each try as if it were the only one · rest {run.restS} s
        </p>
        <p className={`text-sm ${exits && exits.state !== "proven" ? "font-bold text-brick" : ""}`}>
          {exits &&
            (exits.state === "proven"
              ? "Exits proven · keep the stepping side clear"
              : "Exits not proven: spotter stays")}
        </p>
      </div>
      <div className="mt-2 grid grid-cols-1 gap-x-16 gap-y-4 lg:grid-cols-[1fr_22.5rem]">
        <div>
          <p className="text-lg text-soft" role="status">
            {says(phase, tries.length, hold)}
          </p>
          <BigFigure phase={phase} seconds={seconds} restLeft={restLeft} />
          <div className="grid grid-cols-12 gap-3 max-sm:gap-2 max-sm:[&_button]:px-1">
            <Button
              kind="act"
              live
              keycap={phase === "stopped" || phase === "full" ? "Enter" : "Space"}
              onClick={main}
              className="col-span-3 max-sm:col-span-12"
            >
              {MAIN_WORDS[phase]}
            </Button>
            <Button live keycap="←" disabled={!hold} onClick={() => keepHeld("under")} className={PLACE}>
              fell under
            </Button>
            <Button live keycap="→" disabled={!hold} onClick={() => keepHeld("over")} className={PLACE}>
              fell over
            </Button>
            <Button live keycap="↓" disabled={!hold} onClick={() => keepHeld("down")} className={PLACE}>
              came down
            </Button>
            <Button live keycap="O" disabled={full} onClick={() => keepPassed("overshot")} className={PLACE}>
              Overshot
            </Button>
            <Button live keycap="U" disabled={full} onClick={() => keepPassed("undershot")} className={PLACE}>
              Undershot
            </Button>
            <Button live keycap="Z" disabled={!hold && !tries.length} onClick={undo} className={PLACE}>
              Take back
            </Button>
            <Button
              live
              kind="danger"
              keycap="P"
              className="col-span-3 max-sm:order-2 max-sm:text-base max-sm:leading-tight"
              onClick={() => setPain(true)}
            >
              Pain stop
            </Button>
            {FORMS.map(([form, words]) => (
              <Button
                key={form}
                disabled={!hold}
                aria-pressed={hold?.form === form}
                keycap={form === "lost" ? "X" : words.charAt(0).toUpperCase()}
                onClick={mark(form)}
                className={`col-span-2 min-h-14 max-sm:order-1 max-sm:col-span-3 ${hold?.form === form ? "bg-tint border-blue" : ""}`}
              >
                {words}
              </Button>
            ))}
            <span className="col-span-3 self-center text-sm text-soft max-sm:order-3 max-sm:col-span-6">
              unmarked counts as clean
            </span>
            {!full && tries.length > 0 && (
              <Button
                kind="quiet"
                className="col-span-3 text-sm max-sm:order-4 max-sm:col-span-6"
                onClick={finish}
              >
                Stop the test here
              </Button>
            )}
          </div>
        </div>
        <div className="max-lg:order-last">
          <SoFar judged={judged} kept={tries.length} waiting={waiting} last={last} />
        </div>
        <div className="lg:col-span-2">
          <TryStrip tries={tries} of={TRIES} now={hold ? seconds : null} height={165} label="Tries so far" />
        </div>
      </div>
      {pain && (
        <PainStop
          trainee={run.trainee}
          onClose={() => setPain(false)}
          onStop={(pain_joint, pain_level) => {
            setHold(null);
            endRun(run, { ended_as: "pain", pain_joint, pain_level });
          }}
        />
      )}
    </>
  );
}

const MAIN_WORDS: Record<Phase, string> = {
  ready: "Start hold",
  rest: "Start early",
  holding: "Stop",
  stopped: "Keep",
  full: "See the decision",
};

function says(phase: Phase, done: number, hold: Hold | null) {
  const which = `Try ${done + 1} of ${TRIES}`;
  switch (phase) {
    case "ready":
      return `${which} · ready`;
    case "rest":
      return `${which} · rest first`;
    case "holding":
      return `${which} · holding${hold?.early ? ", started early" : ""}`;
    case "stopped":
      return `${which} · stopped: how did it end?`;
    case "full":
      return "All ten tries are kept.";
  }
}

function BigFigure({ phase, seconds, restLeft }: { phase: Phase; seconds: number | null; restLeft: number }) {
  const look = "my-1 font-head text-[12rem] leading-[1.02] font-bold max-sm:text-[6rem]";
  if (phase === "rest")
    return (
      <p className={look} data-testid="figure">
        <span className="sr-only">rest left </span>0:{String(restLeft).padStart(2, "0")}
      </p>
    );
  return (
    <p className={`${look} ${phase === "full" ? "text-soft" : "text-blue"}`} data-testid="figure">
      {phase === "full" ? "10" : (seconds ?? 0).toFixed(1)}
      <span className="ml-3 text-[40%]">{phase === "full" ? "of 10" : "s"}</span>
    </p>
  );
}
