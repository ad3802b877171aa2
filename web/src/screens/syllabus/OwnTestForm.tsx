import { type FormEvent, useState } from "react";
import type { Drill, OwnTest, SyllabusPage } from "../../api/client";
import { Button } from "../../parts/Button";
import { Choice, Field } from "../../parts/Field";
import { DrillOptions } from "./DrillOptions";
import { freeName, slug } from "./draft";

interface Props {
  page: SyllabusPage;
  content: SyllabusPage["content"];
  /** The test to change; without one a new one is made. */
  first: OwnTest | null;
  onDone: (test: OwnTest | null) => void;
}

type Way = OwnTest["way"];
type Measure = OwnTest["measure"];

/** A test of one's own: for which drill, what is measured and how, tries and rests. The checks say what does not fit. */
export function OwnTestForm({ page, content, first, onDone }: Props) {
  const drills = content.lines.flatMap((l) => l.rungs.flat()).filter((d) => !d.retired);
  const [drill, setDrill] = useState(() => drills.find((d) => d.drill === first?.drill) ?? null);
  const [way, setWay] = useState<Way>(first?.way ?? "best");
  const [measure, setMeasure] = useState<Measure>(first?.measure ?? "hold");
  const pick = (name: string) => {
    const next = drills.find((d) => d.drill === name) ?? null;
    setDrill(next);
    // what its gate measures is what a test of it most often measures
    if (next && !first) {
      setMeasure(next.gate.measure === "rate" ? "hold" : next.gate.measure);
      if (next.gate.measure === "rate") setWay("share");
    }
  };
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const data = new FormData(event.currentTarget);
    if (drill) onDone(testFrom(data, { drill: drill.drill, way, measure, first, content }));
  };
  const { testing } = page;
  const measures = Object.entries(page.measures).filter(([m]) => m !== "rate");
  return (
    <form onSubmit={submit} className="my-3 border-l-4 border-blue pl-4" aria-label="A test of my own">
      <Field label="What is it called?">
        {(id) => (
          <input id={id} name="title" required maxLength={80} defaultValue={first?.title} className="field" />
        )}
      </Field>
      <Field label="For which drill?" hint={drill ? `Its gate: ${gateWords(page, drill)}.` : undefined}>
        {(id) => (
          <select
            id={id}
            required
            className="field"
            value={drill?.drill ?? ""}
            onChange={(event) => pick(event.target.value)}
          >
            <option value="">which?</option>
            <DrillOptions lines={content.lines} />
          </select>
        )}
      </Field>
      <Choice
        legend="What counts?"
        options={testing.ways.filter((w) => w.way !== "ladder" || drill?.dial).map((w) => [w.way, w.title])}
        value={way}
        onPick={setWay}
      />
      {way === "best" && (
        <Field label="Measured in">
          {(id) => (
            <select
              id={id}
              className="field"
              value={measure}
              onChange={(event) => setMeasure(event.target.value as Measure)}
            >
              {measures.map(([key, words]) => (
                <option key={key} value={key}>
                  {words}
                </option>
              ))}
            </select>
          )}
        </Field>
      )}
      <div className="flex flex-wrap gap-x-4">
        <Num name="tries" label="Tries at most" first={first?.tries ?? testing.tries.value} most={20} />
        <Num name="rest" label="Rest between, s" first={first?.rest_s ?? testing.rest_s.value} most={600} />
        {way === "best" && measure === "touches" && (
          <Num
            name="window"
            label="Counted for, s"
            first={first?.window_s ?? drill?.gate.window_s ?? testing.window_s.value}
            most={600}
          />
        )}
        <Num
          name="again"
          label="Again after, days"
          first={first?.due_after_days ?? null}
          most={366}
          hint="Empty: never by itself."
        />
      </div>
      {way === "ladder" && drill?.dial && <Settings drill={drill} first={first?.climb ?? null} />}
      <label className="mb-3 flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          name="each"
          className="size-6 accent-blue"
          defaultChecked={first?.each_side ?? false}
        />
        Each side on its own
      </label>
      <div className="flex gap-3">
        <Button kind="act" type="submit">
          {first ? "Change it" : "Make it"}
        </Button>
        <Button onClick={() => onDone(null)}>Leave it</Button>
      </div>
    </form>
  );
}

function Settings({ drill, first }: { drill: Drill; first: OwnTest["climb"] }) {
  const { dial } = drill;
  if (!dial) return null;
  const begin = first?.start ?? dial.start?.value ?? null;
  const unit = dial.unit === "deg" ? "°" : "cm";
  return (
    <fieldset className="flex flex-wrap gap-x-4">
      <legend className="mb-1">
        {dial.name.replaceAll("-", " ")} in {unit}: {dial.harder} is harder
      </legend>
      <Num name="easiest" label="Easiest" first={first?.easiest ?? null} any />
      <Num name="hardest" label="Hardest" first={first?.hardest ?? null} any />
      <Num name="start" label="Begin at" first={begin} any />
      <Num name="step" label="Step" first={first?.step ?? dial.step?.value ?? null} any />
    </fieldset>
  );
}

interface NumProps {
  name: string;
  label: string;
  first: number | null;
  most?: number;
  hint?: string | undefined;
  any?: boolean;
}

function Num({ name, label, first, most, hint, any = false }: NumProps) {
  return (
    <div className="w-36">
      <Field label={label} hint={hint}>
        {(id) => (
          <input
            id={id}
            name={name}
            type="number"
            step={any ? "any" : 1}
            min={any ? undefined : 1}
            max={most}
            required={!hint}
            defaultValue={first ?? ""}
            className="field"
          />
        )}
      </Field>
    </div>
  );
}

const gateWords = (page: SyllabusPage, drill: Drill) =>
  page.words[drill.drill]?.gate ?? `${drill.gate.value}`;

interface Said {
  drill: string;
  way: Way;
  measure: Measure;
  first: OwnTest | null;
  content: SyllabusPage["content"];
}

function testFrom(data: FormData, { drill, way, measure, first, content }: Said): OwnTest {
  const title = String(data.get("title")).trim();
  const number = (name: string) => (data.get(name) ? Number(data.get(name)) : null);
  const measured = way === "share" ? "rate" : way === "ladder" ? "reps" : measure;
  return {
    test:
      first?.test ??
      freeName(
        `own-${slug(title) || "test"}`.slice(0, 50),
        content.own_tests.map((t) => t.test),
      ),
    title,
    drill,
    way,
    measure: measured,
    tries: number("tries") ?? 1,
    rest_s: number("rest") ?? 1,
    about: first?.about ?? "",
    window_s: measured === "touches" ? number("window") : null,
    climb:
      way === "ladder"
        ? {
            easiest: number("easiest") ?? 0,
            hardest: number("hardest") ?? 0,
            start: number("start") ?? 0,
            step: number("step") ?? 0,
          }
        : null,
    each_side: data.get("each") !== null,
    due_after_days: number("again"),
  };
}
