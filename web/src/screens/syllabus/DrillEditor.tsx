import { type FormEvent, type ReactNode, useState } from "react";
import type { Drill, DrillWords, Edit, Gate, SyllabusPage } from "../../api/client";
import { Button } from "../../parts/Button";
import { Field } from "../../parts/Field";
import { slug } from "./draft";

interface Props {
  drill: Drill;
  words: DrillWords | undefined;
  content: SyllabusPage["content"];
  onEdit: (edit: Edit) => void;
  onClose: () => void;
}

type Part = "gate" | "dose" | "cues" | "insert" | null;

/** One drill of the coach's own copy: its gate, dose and cues, a rung beside it, or out of use. */
export function DrillEditor({ drill, words, content, onEdit, onClose }: Props) {
  const [part, open] = useState<Part>(null);
  const line = content.lines.find((l) => l.rungs.some((r) => r.some((d) => d.drill === drill.drill)));
  const done = (edit: Edit) => {
    onEdit(edit);
    open(null);
  };
  const choice = (name: Part, words: string) => (
    <Button aria-pressed={part === name} onClick={() => open(part === name ? null : name)}>
      {words}
    </Button>
  );
  return (
    <section aria-label={`Edit ${drill.title}`} className="mb-5 border-l-4 border-blue bg-sheet px-4 py-3">
      <div className="flex items-start justify-between gap-3">
        <h2 className="text-xl">{drill.title}</h2>
        <button type="button" className="text-soft underline" onClick={onClose}>
          Close
        </button>
      </div>
      <p className="mb-1">{words?.about}</p>
      <p className="mb-2 text-sm text-soft">
        Gate {words?.gate}. {(drill.cues ?? []).join(" ")} {(drill.cautions ?? []).join(" ")}
      </p>
      <div className="mb-3 flex flex-wrap gap-2">
        {choice("gate", "Gate")}
        {choice("dose", "Dose")}
        {choice("cues", "Cues")}
        {choice("insert", "Insert a rung")}
        <Button onClick={() => done({ drill: drill.drill, retired: !drill.retired })}>
          {drill.retired ? "Bring back" : "Retire"}
        </Button>
      </div>
      {part === "gate" && <GateForm drill={drill} words={words} onEdit={done} />}
      {part === "dose" && <DoseForm drill={drill} words={words} content={content} onEdit={done} />}
      {part === "cues" && <CuesForm drill={drill} onEdit={done} />}
      {part === "insert" && line && (
        <InsertForm drill={drill} words={words} line={line.line} content={content} onEdit={done} />
      )}
    </section>
  );
}

interface FormProps {
  onSubmit: (data: FormData) => void;
  words?: string;
  children: ReactNode;
}

function Form({ onSubmit, words = "Set", children }: FormProps) {
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    onSubmit(new FormData(event.currentTarget));
  };
  return (
    <form onSubmit={submit}>
      {children}
      <Button type="submit" kind="act">
        {words}
      </Button>
    </form>
  );
}

interface NumberProps {
  name: string;
  label: string;
  value: number | null | undefined;
  required?: boolean;
}

function NumberField({ name, label, value, required = true }: NumberProps) {
  return (
    <Field label={label}>
      {(id) => (
        <input
          id={id}
          name={name}
          type="number"
          step="any"
          required={required}
          defaultValue={value ?? undefined}
          className="field"
        />
      )}
    </Field>
  );
}

function gateFrom(data: FormData, gate: Gate): Gate {
  const number = (name: string) => Number(data.get(name));
  const at = gate.at && {
    ...gate.at,
    origin: "ours" as const,
    ...(gate.at.at_most !== null && gate.at.at_most !== undefined
      ? { at_most: number("at") }
      : { at_least: number("at") }),
  };
  const easy = gate.easy_from && gate.easy_from.value < number("value") ? null : (gate.easy_from ?? null);
  return {
    ...gate,
    value: number("value"),
    origin: "ours",
    easy_from: easy,
    ...(gate.of && { of: number("of") }),
    ...(at && { at }),
  };
}

function GateFields({ gate, words }: { gate: Gate; words: DrillWords | undefined }) {
  return (
    <div className="grid grid-cols-2 gap-x-4">
      <NumberField name="value" label={words?.measured ?? ""} value={gate.value} />
      {gate.of && <NumberField name="of" label="Of how many" value={gate.of} />}
      {gate.at && (
        <NumberField name="at" label={words?.dial ?? ""} value={gate.at.at_most ?? gate.at.at_least} />
      )}
    </div>
  );
}

function GateForm({ drill, words, onEdit }: Omit<DoseFormProps, "content">) {
  return (
    <Form
      onSubmit={(data) =>
        onEdit({ drill: drill.drill, change: { drill: drill.drill, gate: gateFrom(data, drill.gate) } })
      }
    >
      <GateFields gate={drill.gate} words={words} />
    </Form>
  );
}

interface DoseFormProps {
  drill: Drill;
  words: DrillWords | undefined;
  content: SyllabusPage["content"];
  onEdit: (edit: Edit) => void;
}

function DoseForm({ drill, words, content, onEdit }: DoseFormProps) {
  const dose = drill.doses?.[0] ?? content.usual_doses[drill.gate.measure];
  const range = (data: FormData, name: string) =>
    data.get(`${name}-least`)
      ? {
          least: Number(data.get(`${name}-least`)),
          most: Number(data.get(`${name}-most`) || data.get(`${name}-least`)),
          origin: "ours" as const,
        }
      : null;
  return (
    <Form
      onSubmit={(data) =>
        onEdit({
          drill: drill.drill,
          change: {
            drill: drill.drill,
            doses: [
              {
                words: String(data.get("words")),
                sets: range(data, "sets"),
                each: range(data, "each"),
                rest_s: data.get("rest") ? { value: Number(data.get("rest")), origin: "ours" } : null,
              },
            ],
          },
        })
      }
    >
      <div className="grid grid-cols-2 gap-x-4">
        <NumberField name="sets-least" label="Sets, from" value={dose?.sets?.least} required={false} />
        <NumberField name="sets-most" label="to" value={dose?.sets?.most} required={false} />
        <NumberField
          name="each-least"
          label={`${words?.measured.split(",")[0]} each, from`}
          value={dose?.each?.least}
          required={false}
        />
        <NumberField name="each-most" label="to" value={dose?.each?.most} required={false} />
        <NumberField name="rest" label="Rest, s" value={dose?.rest_s?.value} required={false} />
      </div>
      <Field label="In words">
        {(id) => <input id={id} name="words" defaultValue={dose?.words} maxLength={200} className="field" />}
      </Field>
    </Form>
  );
}

function CuesForm({ drill, onEdit }: { drill: Drill; onEdit: (edit: Edit) => void }) {
  return (
    <Form
      onSubmit={(data) =>
        onEdit({
          drill: drill.drill,
          change: {
            drill: drill.drill,
            cues: String(data.get("cues"))
              .split("\n")
              .map((cue) => cue.trim())
              .filter(Boolean),
          },
        })
      }
    >
      <Field label="Cues, one a line">
        {(id) => (
          <textarea
            id={id}
            name="cues"
            rows={3}
            maxLength={1000}
            defaultValue={(drill.cues ?? []).join("\n")}
            className="field"
          />
        )}
      </Field>
    </Form>
  );
}

interface InsertProps extends DoseFormProps {
  line: string;
}

function InsertForm({ drill, words, line, content, onEdit }: InsertProps) {
  const goals = content.goals.filter(
    (g) => g.drills.includes(drill.drill) || g.supports?.includes(drill.drill),
  );
  return (
    <Form
      words="Insert"
      onSubmit={(data) => {
        const title = String(data.get("title")).trim();
        const where = data.get("where") === "above" ? { above: drill.drill } : { below: drill.drill };
        const gate = gateFrom(data, drill.gate);
        const { needs: _, stages: __, ...like } = drill;
        onEdit({
          drill: slug(title),
          line,
          place: where,
          insert: {
            ...like,
            drill: slug(title),
            title,
            about: String(data.get("about")),
            gate,
            optional: false,
            follows: true,
            family: drill.family || drill.drill,
          },
          add_to_goals: (goals.length ? goals : content.goals.slice(0, 1)).map((g) => g.goal),
        });
      }}
    >
      <Field label="Title">
        {(id) => <input id={id} name="title" required maxLength={100} className="field" />}
      </Field>
      <Field label="What it is">
        {(id) => <input id={id} name="about" maxLength={300} defaultValue={drill.about} className="field" />}
      </Field>
      <GateFields gate={drill.gate} words={words} />
      <Field label="Where">
        {(id) => (
          <select id={id} name="where" className="field">
            <option value="below">just below {drill.title}</option>
            <option value="above">just above {drill.title}</option>
          </select>
        )}
      </Field>
    </Form>
  );
}
