import { type FormEvent, useState } from "react";
import type { Edit, SyllabusPage } from "../../api/client";
import { Button } from "../../parts/Button";
import { Field } from "../../parts/Field";
import { DrillOptions } from "./DrillOptions";
import { freeName, slug } from "./draft";
import { titleOf } from "./OwnTests";

type Content = SyllabusPage["content"];
type Goal = Content["goals"][number];

interface Props {
  content: Content;
  onEdit: (edit: Edit) => void;
}

/** What there is to train for, each to change, and a new one out of drills that are there. */
export function Goals({ content, onEdit }: Props) {
  const [open, setOpen] = useState<string | null>(null);
  const done = (goal: Goal | null) => {
    if (goal) onEdit({ drill: goal.drills[0] ?? "", goal });
    setOpen(null);
  };
  return (
    <section aria-label="Goals">
      <p className="mb-3 text-soft">
        A goal is reached once every drill that it asks for is met. For a skill that is no drill yet, break it
        down.
      </p>
      {open === "" ? (
        <GoalForm content={content} first={null} onDone={done} />
      ) : (
        <Button onClick={() => setOpen("")}>A goal of my own</Button>
      )}
      <ul className="mt-3">
        {content.goals.map((g) => (
          <li key={g.goal} className="border-b border-rule py-2">
            {open === g.goal ? (
              <GoalForm content={content} first={g} onDone={done} />
            ) : (
              <div className="flex items-center justify-between gap-4">
                <span>
                  <b>{g.title}</b>
                  <span className="block text-sm text-soft">
                    {g.drills.map((d) => titleOf(content, d)).join(", ")}. {g.expect}
                  </span>
                </span>
                <Button aria-label={`Change ${g.title}`} onClick={() => setOpen(g.goal)}>
                  Change
                </Button>
              </div>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

interface FormProps {
  content: Content;
  first: Goal | null;
  onDone: (goal: Goal | null) => void;
}

function GoalForm({ content, first, onDone }: FormProps) {
  const [drills, setDrills] = useState<string[]>(first?.drills ?? []);
  const [helps, setHelps] = useState<string[]>(first?.supports ?? []);
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const data = new FormData(event.currentTarget);
    const title = String(data.get("title")).trim();
    onDone({
      goal:
        first?.goal ??
        freeName(
          slug(title) || "goal",
          content.goals.map((g) => g.goal),
        ),
      title,
      drills,
      through: first?.through ?? [],
      supports: helps,
      expect: String(data.get("expect")).trim(),
    });
  };
  return (
    <form onSubmit={submit} className="my-2 border-l-4 border-blue pl-4" aria-label="The goal">
      <Field label="What is it called?">
        {(id) => (
          <input
            id={id}
            name="title"
            required
            maxLength={100}
            defaultValue={first?.title}
            className="field"
          />
        )}
      </Field>
      <Named label="Asks for" content={content} chosen={drills} onChange={setDrills} />
      <Named label="Helped by" content={content} chosen={helps} onChange={setHelps} />
      <Field label="What to expect" hint="Said to the trainee. Weeks are never a gate.">
        {(id) => (
          <input id={id} name="expect" maxLength={200} defaultValue={first?.expect} className="field" />
        )}
      </Field>
      <div className="flex gap-3">
        <Button kind="act" type="submit" disabled={drills.length === 0}>
          {first ? "Change it" : "Make it"}
        </Button>
        <Button onClick={() => onDone(null)}>Leave it</Button>
      </div>
    </form>
  );
}

interface NamedProps {
  label: string;
  content: Content;
  chosen: string[];
  onChange: (drills: string[]) => void;
}

/** Drills by name, each to take out, and one more to put in. */
function Named({ label, content, chosen, onChange }: NamedProps) {
  return (
    <fieldset className="mb-4">
      <legend className="mb-1 font-bold">{label}</legend>
      <ul className="mb-1 flex flex-wrap gap-2">
        {chosen.map((d) => (
          <li key={d}>
            <Button
              aria-label={`${label}: take ${titleOf(content, d)} out`}
              onClick={() => onChange(chosen.filter((x) => x !== d))}
            >
              {titleOf(content, d)} ×
            </Button>
          </li>
        ))}
      </ul>
      <select
        aria-label={`${label}: one more`}
        className="field"
        value=""
        onChange={(event) => onChange([...chosen, event.target.value])}
      >
        <option value="">one more</option>
        <DrillOptions lines={content.lines} without={chosen} />
      </select>
    </fieldset>
  );
}
