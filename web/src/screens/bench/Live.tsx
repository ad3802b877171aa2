import { useEffect, useReducer, useState } from "react";
import type { JudgedRun, Mark, Mode } from "../../api/client";
import { TryStrip } from "../../drawings/TryStrip";
import { endRun, goOnByHand, type LiveRun } from "../../live/run";
import { levelName } from "../../live/sheet";
import { useAwake } from "../../live/useAwake";
import { useKeys } from "../../live/useKeys";
import { Button } from "../../parts/Button";
import { capital, FORMS, figure } from "../../parts/words";
import { BigFigure } from "./BigFigure";
import { Confidence } from "./Confidence";
import { NumberEntry } from "./NumberEntry";
import { PainStop } from "./PainStop";
import { SoFar } from "./SoFar";
import { SoundSwitch } from "./SoundSwitch";
import { TriesSoFar } from "./TriesSoFar";
import { type Phase, type TryInHand, useTry } from "./useTry";

/** Another trainee whose turn it is while this one rests. */
export interface Elsewhere {
  words: string;
  go: () => void;
}

interface Props {
  run: LiveRun;
  judged: JudgedRun | undefined;
  waiting: number;
  elsewhere?: Elsewhere | undefined;
}

/** One thing that can be done now. A clicker goes through them with one key and takes one with the other. */
interface Choice {
  id: string;
  words: string;
  keycap: string;
  act: () => void;
  kind?: "act" | "plain" | "quiet";
  off?: boolean;
}

const SHOWN_KEYS: Record<string, string> = {
  ArrowLeft: "←",
  ArrowRight: "→",
  ArrowDown: "↓",
  ArrowUp: "↑",
  Enter: "Enter",
  " ": "Space",
};
const shown = (key: string) => SHOWN_KEYS[key] ?? key.toUpperCase();

/** A test while it runs: one big figure, one key a result, the strip growing. Which test it is, only its data says. */
export function Live({ run, judged, waiting, elsewhere }: Props) {
  const [pain, setPain] = useState(false);
  const [confidence, setConfidence] = useState<number | null>(null);
  const [lit, setLit] = useState(-1);
  const [, redraw] = useReducer((times: number) => times + 1, 0);
  const hand = useTry(run);
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
    // what was chosen stands in the browser's storage; drawing anew reads it
    redraw();
  };
  const choices = choicesOf({ hand, run, finish, goOn, elsewhere });
  const offered = choices.filter((choice) => !choice.off);
  const next = () => setLit((lit + 1) % Math.max(1, offered.length));
  const take = () => {
    const chosen = lit >= 0 ? offered[lit % offered.length] : offered[0];
    setLit(-1);
    chosen?.act();
  };
  const counting = phase === "going" && (mode.takes === "window" || mode.takes === "count");
  const form = hold ? (name: "clean" | "loose" | "lost") => () => hand.mark(name) : () => undefined;
  const keys = Object.fromEntries(
    choices
      .filter((choice) => !choice.off)
      .map((choice) => [
        choice.keycap.length === 1 ? choice.keycap.toLowerCase() : choice.keycap,
        choice.act,
      ]),
  );
  useKeys({
    ...(phase === "over" ? Object.fromEntries([1, 2, 3, 4, 5].map((n) => [n, () => setConfidence(n)])) : {}),
    ...keys,
    // while touches are counted a clicker's other key counts
    PageUp: counting ? () => hand.count(1) : next,
    PageDown: take,
    c: form("clean"),
    l: form("loose"),
    x: form("lost"),
    z: hold || tries.length ? hand.undo : undefined,
    p: () => setPain(true),
    f: tries.length && phase !== "over" ? finish : undefined,
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
      <div className="flex flex-wrap items-baseline justify-between gap-x-6">
        <h1 className="text-2xl">{title}</h1>
        <p className="text-soft max-sm:hidden">
          {[run.room, settings(run), run.paper ? "from paper" : `rest ${run.restS} s`]
            .filter(Boolean)
            .join(" · ")}
        </p>
        <ExitsLine judged={judged} />
      </div>
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
            {mode.takes === "number" || (run.paper && mode.marks.some((m) => m.figure)) ? (
              phase !== "over" && <NumberEntry hand={hand} />
            ) : (
              <BigFigure hand={hand} />
            )}
          </div>
          {phase === "over" && <Confidence value={confidence} onPick={setConfidence} />}
          <Controls
            choices={choices}
            lit={lit >= 0 ? offered[lit % offered.length]?.id : undefined}
            hand={hand}
            onPain={() => setPain(true)}
          />
          {phase !== "over" && (
            <p className="mt-1 flex min-h-11 flex-wrap items-center gap-x-4 text-sm text-soft">
              {mode.takes !== "number" && "unmarked counts as clean"}
              {tries.length > 0 && (
                <Button kind="quiet" keycap="F" className="text-sm" onClick={finish}>
                  {place.step?.whole ? "End here: this is a whole result" : "Stop the test here"}
                </Button>
              )}
            </p>
          )}
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
      return `${name.replaceAll("-", " ")} ${cm} cm${body ? `, ${body}` : ""}`;
    })
    .join(" · ");

const early = (run: LiveRun, before: string) =>
  run.protocol.test.modes.find((m) => m.mode === before)?.early?.say;

interface Asked {
  hand: TryInHand;
  run: LiveRun;
  finish: () => void;
  goOn: () => void;
  elsewhere: Elsewhere | undefined;
}

const MAIN: Record<Exclude<Phase, "stopped">, string> = {
  ready: "Start",
  rest: "Start early",
  going: "Stop",
  over: "See the decision",
};

function choicesOf({ hand, run, finish, goOn, elsewhere }: Asked): Choice[] {
  const { phase, mode, place, hold } = hand;
  if (phase === "over")
    return [{ id: "finish", words: MAIN.over, keycap: "Enter", act: finish, kind: "act" }];
  const typed = mode.takes === "number" || run.paper;
  const found: Choice[] = [];
  if (phase === "rest" && elsewhere)
    found.push({ id: "elsewhere", words: elsewhere.words, keycap: "N", act: elsewhere.go, kind: "act" });
  const startable = !typed && (phase === "ready" || phase === "rest");
  if (startable)
    found.push({
      id: "start",
      words: MAIN[phase as "ready" | "rest"],
      keycap: " ",
      act: hand.start,
      kind: found.length ? "plain" : "act",
    });
  if (phase === "going" && mode.takes !== "mark" && mode.takes !== "window")
    found.push({ id: "stop", words: MAIN.going, keycap: " ", act: hand.stop, kind: "act" });
  if (phase === "going" && mode.takes === "window")
    found.push({ id: "count", words: "Touch", keycap: "T", act: () => hand.count(1), kind: "act" });
  if (phase === "going" && mode.takes === "count")
    found.push({ id: "count", words: "One more", keycap: "T", act: () => hand.count(1) });
  if (phase === "stopped" && (mode.takes === "window" || mode.takes === "count") && !typed)
    found.push(
      { id: "one-more", words: "One more", keycap: "T", act: () => hand.count(1) },
      { id: "one-less", words: "One less", keycap: "R", act: () => hand.count(-1), off: !hold?.count },
    );
  const marks = mode.marks.map((mark) => asChoice(mark, hand, typed));
  const keepFirst = phase === "stopped" || (phase === "going" && mode.takes === "mark");
  const main = marks.find((m) => m.keycap === "Enter");
  const ordered =
    keepFirst && main ? [{ ...main, kind: "act" as const }, ...marks.filter((m) => m !== main)] : marks;
  const all = keepFirst ? [...ordered, ...found] : [...found, ...ordered];
  if (mode.change && place.step?.change)
    all.push({
      id: "change",
      words: mode.change.title,
      keycap: shown(mode.change.key),
      act: goOn,
      off: phase === "going",
    });
  return all;
}

function asChoice(mark: Mark, hand: TryInHand, typed: boolean): Choice {
  const { phase, mode } = hand;
  // a window that is not over has no figure yet; a figure that is typed is there once it is typed
  const figured =
    mode.takes === "window" || typed ? phase === "stopped" : phase === "stopped" || phase === "going";
  return {
    id: `${mark.outcome} ${mark.fell ?? ""}`,
    words: mark.title,
    keycap: mark.key,
    act: () => hand.keep(mark),
    off: mark.figure && !figured,
  };
}

interface ControlsProps {
  choices: Choice[];
  lit: string | undefined;
  hand: TryInHand;
  onPain: () => void;
}

function Controls({ choices, lit, hand, onPain }: ControlsProps) {
  const { hold, tries, phase, mode } = hand;
  // what one key or one reading says has no form beside it
  const formed =
    phase !== "over" && mode.takes !== "number" && (mode.takes !== "mark" || mode.ladder !== null);
  return (
    <div className="mt-2 grid gap-3 max-sm:gap-2">
      <div className="flex flex-wrap gap-3 max-sm:gap-2">
        {choices.map((choice, n) => (
          <Button
            key={choice.id}
            kind={choice.kind ?? "plain"}
            live
            keycap={shown(choice.keycap)}
            disabled={choice.off === true}
            onClick={choice.act}
            data-lit={choice.id === lit || undefined}
            className={`${n === 0 && choice.kind === "act" ? "grow-[3] basis-[12rem] max-sm:basis-full" : "grow basis-[8.5rem] max-sm:basis-[30%] max-sm:px-2"} data-lit:outline-4 data-lit:outline-offset-2 data-lit:outline-blue`}
          >
            {choice.words}
          </Button>
        ))}
      </div>
      <div className={`grid gap-3 max-sm:gap-2 ${formed ? "grid-cols-5 max-sm:grid-cols-6" : "grid-cols-2"}`}>
        {formed &&
          FORMS.map(([form, words]) => (
            <Button
              key={form}
              disabled={!hold}
              aria-pressed={hold?.form === form}
              keycap={form === "lost" ? "X" : words.charAt(0).toUpperCase()}
              onClick={() => hand.mark(form)}
              className={`min-h-14 max-sm:col-span-2 max-sm:px-2 ${hold?.form === form ? "border-blue bg-tint" : ""}`}
            >
              {words}
            </Button>
          ))}
        <Button
          keycap="Z"
          disabled={!hold && !tries.length}
          onClick={hand.undo}
          className={`min-h-14 max-sm:px-2 ${formed ? "max-sm:col-span-3" : ""}`}
        >
          Take back
        </Button>
        <Button
          kind="danger"
          keycap="P"
          onClick={onPain}
          className={`min-h-14 max-sm:px-2 ${formed ? "max-sm:col-span-3" : ""}`}
        >
          Pain stop
        </Button>
      </div>
    </div>
  );
}

/** A height that no stack makes is made by eye; a distance needs no kit but a tape. */
const byEye = ({ stacks, hand_stacks }: NonNullable<Mode["ladder"]>, level: number) =>
  stacks.length + hand_stacks.length === 0
    ? ""
    : level === 0
      ? "the flat floor"
      : "no stack in the kit makes it";

/** What to set up for this try on a ladder: the setting, the stack that makes it, and what came before. */
function Setting({ hand, run }: { hand: TryInHand; run: LiveRun }) {
  const { mode, levels, level, place } = hand;
  if (!mode.ladder || level === null) return null;
  const { sheet, inBody } = run.protocol;
  const name = mode.ladder.dial.replaceAll("-", " ");
  const stack = sheet.stacks[levelName(level)];
  const body = inBody[levelName(level)];
  return (
    <div className="my-2 min-w-64 flex-1 border-l-4 border-blue bg-sheet px-4 py-3" data-testid="setting">
      <p className="font-head text-3xl font-bold">
        {capital(name)}: {figure(level, mode)}
      </p>
      <p className="text-lg">{[stack ?? byEye(mode.ladder, level), body].filter(Boolean).join(" · ")}</p>
      {place.step?.say && <p className="text-soft">{place.step.say}</p>}
      {levels.length > 1 && (
        <p className="mt-2 flex flex-wrap gap-2">
          {levels.map((other, n) => (
            <Button
              key={other}
              aria-pressed={other === level}
              className={other === level ? "border-blue bg-tint" : ""}
              onClick={() => hand.chooseLevel(n)}
            >
              {figure(other, mode)}
            </Button>
          ))}
        </p>
      )}
    </div>
  );
}

function says({ phase, place, mode, hold }: TryInHand, run: LiveRun): string {
  if (phase === "over") return place.over || "All tries are kept.";
  const side = place.step?.side ? ` · ${place.step.side} side` : "";
  const several = run.protocol.test.modes.length > 1 ? `${mode.title} · ` : "";
  const which = mode.ladder
    ? `${several}try ${place.number}`
    : `${several}try ${place.number} of ${place.of}`;
  const state = {
    ready: run.paper ? "from paper" : `ready · ${mode.say}`,
    rest: "rest first",
    going: `${mode.takes === "timer" ? "holding" : "under way"}${hold?.early ? ", started early" : ""}`,
    stopped: "stopped: how did it end?",
  }[phase];
  const said = `${which}${side} · ${state}`;
  return said.charAt(0).toUpperCase() + said.slice(1);
}
