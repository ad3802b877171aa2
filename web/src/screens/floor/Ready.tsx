import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import type { FloorPage, Pain } from "../../api/client";
import { useFloorReady } from "../../api/hooks";
import { useHallDay } from "../../api/me";
import { SessionRibbon } from "../../drawings/SessionRibbon";
import { happen, presentSession, startSession } from "../../live/session";
import { Button, buttonLook } from "../../parts/Button";
import { Message, Problem, Waiting } from "../../parts/Message";
import { dayMonth } from "../../parts/words";
import { joined } from "../plan/ribbon";
import { type Answers, BeforeWeBegin } from "./BeforeWeBegin";
import { JointPain } from "./JointPain";
import { partOfSlot } from "./ribbon";

interface Props {
  trainee: string;
  onBegun: (session: string) => void;
}

/** Ask first: pain by joint, how the day feels, confidence. The session is then as the rules make it of that. */
export function Ready({ trainee, onBegun }: Props) {
  const ready = useFloorReady(trainee, useHallDay());
  if (ready.isPending) return <Waiting />;
  if (!ready.data) return <Problem error={ready.error} />;
  const page = ready.data;
  if (!page.sheet)
    return (
      <Message danger>
        {page.because}{" "}
        <Link to={`/trainees/${trainee}/plan`} className="underline">
          To the plan
        </Link>
      </Message>
    );
  return <AskFirst page={page} onBegun={onBegun} />;
}

const FEELS = ["very poor", "poor", "as usual", "good", "very good"];
const SURE = ["afraid", "unsure", "fair", "sure", "very sure"];

const WARM_UP = "perch.warm-up";

/** The warm-up of the last session begun here, else the usual one. */
function usualWarmUp(sheet: FloorPage["sheet"]) {
  const there = sheet?.before.warm_ups.map((w) => w.warm_up) ?? [];
  const last = localStorage.getItem(WARM_UP) ?? "";
  return there.includes(last) ? last : (there[0] ?? "");
}

function AskFirst({ page, onBegun }: { page: FloorPage; onBegun: (session: string) => void }) {
  const sheet = page.sheet;
  const [pains, setPains] = useState<Pain[]>(() =>
    page.aches.map(({ joint, level, sharp }) => ({ joint, level, sharp })),
  );
  const [energy, setEnergy] = useState<number | null>(null);
  const [confidence, setConfidence] = useState<number | null>(null);
  const [answers, setAnswers] = useState<Answers>({ room: [], checks: {}, warm_up: usualWarmUp(sheet) });
  if (!sheet) return null;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const id = startSession(page.trainee, sheet);
    const begun = presentSession(id);
    if (begun) happen(begun, { kind: "ready", energy, confidence, pains, ...answers }, "how the day begins");
    localStorage.setItem(WARM_UP, answers.warm_up);
    // what runs begins at the top, and the button stood at the bottom
    window.scrollTo(0, 0);
    onBegun(id);
  };
  const change = (joint: string, part: Partial<Pain>) =>
    setPains(pains.map((p) => (p.joint === joint ? { ...p, ...part } : p)));
  const flip = (joint: string) =>
    setPains(
      pains.some((p) => p.joint === joint)
        ? pains.filter((p) => p.joint !== joint)
        : [...pains, { joint, level: 1, sharp: false }],
    );
  const wholeS = Math.max(...sheet.slots.map((s) => s.start_s + s.length_s));
  return (
    <form onSubmit={submit}>
      <h1 className="text-3xl leading-tight">{page.trainee.name}: ask first.</h1>
      <p className="mb-2 text-soft">
        {page.from_plan
          ? `As planned for ${dayMonth(sheet.day)}`
          : "No plan for today: this is what the day would hold"}
        , {sheet.place}, {Math.ceil(wholeS / 60)} min.
      </p>
      <SessionRibbon
        label="The session as planned"
        parts={joined(sheet.slots.map((slot, n) => partOfSlot(sheet, slot, n)))}
        wholeS={wholeS}
      />
      <div className="grid gap-x-12 gap-y-4 lg:grid-cols-2">
        <fieldset>
          <legend className="mb-1 text-xl font-bold">Does anything hurt?</legend>
          <div className="grid grid-cols-2 gap-x-4">
            {sheet.joints.map((joint) => (
              <JointPain
                key={joint}
                joint={joint}
                pain={pains.find((p) => p.joint === joint)}
                onFlip={() => flip(joint)}
                onChange={(part) => change(joint, part)}
              />
            ))}
          </div>
          {pains.length > 0 && (
            <p className="mt-2 border-l-4 border-brick bg-sheet px-3 py-2 text-sm">
              {sheet.changes.stops_at} or more, or sharp: {page.pain_much} Below that: {page.pain_some} A
              coach's record, not medical advice. The venue's rules come first.
            </p>
          )}
        </fieldset>
        <div>
          <Scale legend="How does the day feel?" words={FEELS} value={energy} onPick={setEnergy} />
          <Scale legend="How sure, upside down?" words={SURE} value={confidence} onPick={setConfidence} />
          <p className="mt-3 text-sm text-soft">
            Up to {sheet.changes.poor_energy}: {sheet.changes.poor} {sheet.changes.good}
          </p>
        </div>
      </div>
      <BeforeWeBegin before={sheet.before} answers={answers} onAnswer={setAnswers} />
      <div className="mt-5 flex flex-wrap gap-3">
        <Button type="submit" kind="act" live>
          Begin the session
        </Button>
        <Link to={`/trainees/${page.trainee.id}/plan`} className={buttonLook("plain", true)}>
          Change the plan
        </Link>
      </div>
    </form>
  );
}

interface ScaleProps {
  legend: string;
  words: string[];
  value: number | null;
  onPick: (value: number) => void;
}

function Scale({ legend, words, value, onPick }: ScaleProps) {
  return (
    <fieldset className="mb-4">
      <legend className="mb-1 text-xl font-bold">{legend}</legend>
      <div className="grid grid-cols-5 gap-2">
        {words.map((said, n) => (
          <button
            key={said}
            type="button"
            aria-pressed={value === n + 1}
            className={`min-h-16 rounded-md border px-1 text-sm ${value === n + 1 ? "border-blue bg-tint font-bold" : "border-soft"}`}
            onClick={() => onPick(n + 1)}
          >
            <span className="block font-head text-xl">{n + 1}</span>
            {said}
          </button>
        ))}
      </div>
    </fieldset>
  );
}
