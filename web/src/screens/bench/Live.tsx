import { useEffect, useReducer, useState } from "react";
import type { JudgedRun } from "../../api/client";
import { TryStrip } from "../../drawings/TryStrip";
import { endRun, goOnByHand, type LiveRun, takeBack } from "../../live/run";
import { levelName } from "../../live/sheet";
import { useAwake } from "../../live/useAwake";
import { useKeys } from "../../live/useKeys";
import { Button } from "../../parts/Button";
import { BigFigure } from "./BigFigure";
import { Confidence } from "./Confidence";
import { Controls } from "./Controls";
import { type Choice, choicesOf, type Elsewhere } from "./choices";
import { NumberEntry } from "./NumberEntry";
import { PainStop } from "./PainStop";
import { Setting } from "./Setting";
import { SoFar } from "./SoFar";
import { SoundSwitch } from "./SoundSwitch";
import { TriesSoFar } from "./TriesSoFar";
import { useFilm } from "./useFilm";
import { type TryInHand, useTry } from "./useTry";

interface Props {
  run: LiveRun;
  judged: JudgedRun | undefined;
  waiting: number;
  elsewhere?: Elsewhere | undefined;
}

/** A test while it runs: one big figure, one key a result, the strip growing. Which test it is, only its data says. */
export function Live({ run, judged, waiting, elsewhere }: Props) {
  const [pain, setPain] = useState(false);
  const [confidence, setConfidence] = useState<number | null>(null);
  const [, redraw] = useReducer((times: number) => times + 1, 0);
  const hand = useTry(run);
  const film = useFilm(run, hand);
  const { tries, place, mode, phase, hold } = hand;
  const { test, title, lines } = run.protocol;
  useAwake(true);

  const finish = () => {
    const whole = phase === "over" || place.step?.whole === true;
    hand.drop();
    endRun(run, { ended_as: whole ? "finished" : "stopped", confidence });
  };
  const goOn = () => {
    if (!place.step?.change) return;
    hand.drop();
    goOnByHand(run, place.step.change);
    // what was chosen stands in the browser's storage; drawing again reads it
    redraw();
  };
  const choices = choicesOf({ hand, run, finish, goOn, elsewhere, film });
  const undo = () => {
    if (tries.length === 0) return;
    // a proposal in hand is no try yet: what is taken back is the try before it, and it is proposed again
    hand.drop();
    takeBack(run);
    film.back();
  };
  const lit = useTestKeys({
    hand: run.film ? { ...hand, undo } : hand,
    choices,
    finish,
    onConfidence: setConfidence,
    onPain: () => setPain(true),
  });
  useEffect(() => {
    document.title = `${phase === "going" ? "Under way" : `Try ${tries.length + 1}`} · Wise Perch`;
    return () => {
      document.title = "Wise Perch";
    };
  }, [phase, tries.length]);

  const mine = tries.filter((t) => (t.mode || test.modes[0]?.mode) === mode.mode);
  const places = mode.ladder ? Math.max(8, mine.length + 1) : place.of || mine.length;
  return (
    <>
      <LiveHeader title={title} run={run} judged={judged} />
      <div className="mt-2 grid grid-cols-1 gap-x-16 gap-y-4 lg:grid-cols-[1fr_22.5rem]">
        <div>
          <p className="text-lg text-soft" role="status">
            {says(hand, run)}
          </p>
          {place.switched && mine.length === 0 && (
            <p className="mt-1 border-l-4 border-blue bg-tint px-3 py-1.5 font-bold">
              {early(run, tries.at(-1)?.mode ?? "") ?? mode.title}
            </p>
          )}
          <div className={mode.ladder ? "flex items-center gap-x-10 max-sm:flex-wrap" : ""}>
            {mode.ladder && place.step && <Setting hand={hand} run={run} />}
            {mode.takes === "number" || (run.paper && !film.first && mode.marks.some((m) => m.figure)) ? (
              phase !== "over" && <NumberEntry key={tries.length} hand={hand} />
            ) : (
              <BigFigure hand={hand} />
            )}
          </div>
          {film.first && phase === "stopped" && <FromFilm hand={hand} left={film.left} />}
          {phase === "over" && <Confidence value={confidence} onPick={setConfidence} />}
          <Controls
            choices={choices}
            lit={lit}
            hand={run.film ? { ...hand, undo } : hand}
            onPain={() => setPain(true)}
          />
          {phase !== "over" && <EndHere hand={hand} onFinish={finish} />}
        </div>
        <div className="max-lg:order-last">
          <SoFar judged={judged} kept={tries.length} waiting={waiting} mode={mode.mode} />
          <SoundSwitch />
        </div>
        <div className="lg:col-span-2">
          <TryStrip
            tries={mine}
            mode={mode}
            line={lines[mode.mode] ?? null}
            of={places}
            now={hold && mode.takes !== "mark" ? hand.value : null}
            height={165}
            label="Tries so far"
          />
          <TriesSoFar run={run} tries={tries} />
        </div>
      </div>
      {pain && (
        <PainStop
          run={run}
          onClose={() => setPain(false)}
          onStop={(pain_joint, pain_level) => {
            hand.drop();
            endRun(run, { ended_as: "pain", pain_joint, pain_level });
          }}
        />
      )}
    </>
  );
}

interface KeysProps {
  hand: TryInHand;
  choices: Choice[];
  finish: () => void;
  onConfidence: (level: number) => void;
  onPain: () => void;
}

/** A test by keys alone, or by a clicker's two: one steps through the choices, the other takes the lit one. Returns which is lit. */
function useTestKeys({ hand, choices, finish, onConfidence, onPain }: KeysProps): string | undefined {
  const [lit, setLit] = useState(-1);
  const { hold, mode, phase, tries } = hand;
  const offered = choices.filter((choice) => !choice.off);
  const next = () => setLit((lit + 1) % Math.max(1, offered.length));
  const take = () => {
    const chosen = lit >= 0 ? offered[lit % offered.length] : offered[0];
    setLit(-1);
    chosen?.act();
  };
  const counting = phase === "going" && (mode.takes === "window" || mode.takes === "count");
  const form = hold ? (name: "clean" | "loose" | "lost") => () => hand.mark(name) : () => undefined;
  const keyOf = ({ keycap }: Choice) => (keycap.length === 1 ? keycap.toLowerCase() : keycap);
  useKeys({
    ...(phase === "over" ? Object.fromEntries([1, 2, 3, 4, 5].map((n) => [n, () => onConfidence(n)])) : {}),
    ...Object.fromEntries(offered.map((choice) => [keyOf(choice), choice.act])),
    // while touches are counted a clicker's other key counts
    PageUp: counting ? () => hand.count(1) : next,
    PageDown: take,
    c: form("clean"),
    l: form("loose"),
    x: form("lost"),
    z: hold || tries.length ? hand.undo : undefined,
    p: onPain,
    f: tries.length && phase !== "over" ? finish : undefined,
  });
  return lit >= 0 ? offered[lit % offered.length]?.id : undefined;
}

interface HeaderProps {
  title: string;
  run: LiveRun;
  judged: JudgedRun | undefined;
}

/** Which test, where, at which setting, and whether exits are proven. */
function LiveHeader({ title, run, judged }: HeaderProps) {
  return (
    <div className="flex flex-wrap items-baseline justify-between gap-x-6">
      <h1 className="text-2xl">{title}</h1>
      <p className="text-soft max-sm:hidden">
        {[
          run.room,
          settings(run),
          run.film ? "from a film" : run.paper ? "from paper" : `rest ${run.restS} s`,
        ]
          .filter(Boolean)
          .join(" · ")}
      </p>
      <ExitsLine judged={judged} />
    </div>
  );
}

/** A try that a film proposes: its seconds can be put right before it is kept. */
function FromFilm({ hand, left }: { hand: TryInHand; left: number }) {
  return (
    <p className="my-2 flex flex-wrap items-center gap-x-4 gap-y-1">
      <span className="text-soft">
        The film proposes {left === 1 ? "one more" : `${left} more`}. Nothing is kept without your word.
      </span>
      <label className="flex items-center gap-2">
        Other seconds
        <input
          type="number"
          step={0.1}
          min={0}
          className="field w-24"
          value={hand.value ?? ""}
          onChange={(event) => {
            const figure = Number(event.target.value);
            if (event.target.value !== "" && Number.isFinite(figure) && figure >= 0) hand.setValue(figure);
          }}
        />
      </label>
    </p>
  );
}

/** Ending before the last try; what was done counts. */
function EndHere({ hand, onFinish }: { hand: TryInHand; onFinish: () => void }) {
  const { mode, place, tries } = hand;
  return (
    <p className="mt-1 flex min-h-11 flex-wrap items-center gap-x-4 text-sm text-soft">
      {mode.takes !== "number" && "unmarked counts as clean"}
      {tries.length > 0 && (
        <Button kind="quiet" keycap="F" className="text-sm" onClick={onFinish}>
          {place.step?.whole ? "End here: this is a whole result" : "Stop the test here"}
        </Button>
      )}
    </p>
  );
}

function ExitsLine({ judged }: { judged: JudgedRun | undefined }) {
  const exits = judged?.exits;
  if (!exits) return null;
  const proven = exits.state === "proven";
  return (
    <p className={`text-sm ${proven ? "" : "font-bold text-brick"}`}>
      {proven ? "Exits proven · keep the stepping side clear" : "Exits not proven: spotter stays"}
    </p>
  );
}

const settings = (run: LiveRun) =>
  Object.entries(run.dial)
    .map(([name, cm]) => {
      const body = run.protocol.inBody[levelName(cm)];
      const unit = name.endsWith("angle") ? "°" : " cm";
      return `${name.replaceAll("-", " ")} ${cm}${unit}${body ? `, ${body}` : ""}`;
    })
    .join(" · ");

const early = (run: LiveRun, before: string) =>
  run.protocol.test.modes.find((m) => m.mode === before)?.early?.say;

function says({ phase, place, mode, hold }: TryInHand, run: LiveRun): string {
  if (phase === "over") return place.over || "All tries are kept.";
  const side = place.step?.side ? ` · ${place.step.side} side` : "";
  const several = run.protocol.test.modes.length > 1 ? `${mode.title} · ` : "";
  const which = mode.ladder
    ? `${several}try ${place.number}`
    : `${several}try ${place.number} of ${place.of}`;
  const state = {
    ready: run.film ? "from a film" : run.paper ? "from paper" : `ready · ${mode.say}`,
    rest: "rest first",
    going: `${mode.takes === "timer" ? "holding" : "under way"}${hold?.early ? ", started early" : ""}`,
    stopped: run.film ? "from a film: was it so?" : "stopped: how did it end?",
  }[phase];
  const said = `${which}${side} · ${state}`;
  return said.charAt(0).toUpperCase() + said.slice(1);
}
