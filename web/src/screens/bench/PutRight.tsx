import { type FormEvent, useState } from "react";
import type { Form } from "../../api/client";
import { correctTry, type LiveRun, type LiveTry, modeOf } from "../../live/run";
import { Button } from "../../parts/Button";
import { Choice, Field } from "../../parts/Field";
import { Sheet } from "../../parts/Sheet";
import { capital } from "../../parts/words";
import { tryWords } from "./tryWords";

interface Props {
  run: LiveRun;
  old: LiveTry;
  onClose: () => void;
}

const UNMARKED = "unmarked";

/** Put a try right. The old value is struck out and stays kept beside the new one. */
export function PutRight({ run, old, onClose }: Props) {
  const mode = modeOf(run.protocol.test, old.mode);
  const marks = mode.marks.map((mark) => [`${mark.outcome} ${mark.fell ?? ""}`, mark] as const);
  const [mark, setMark] = useState(`${old.outcome} ${old.fell ?? ""}`);
  const [form, setForm] = useState<Form | typeof UNMARKED>(old.form ?? UNMARKED);
  const [wrong, setWrong] = useState("");
  const chosen = marks.find(([key]) => key === mark)?.[1];
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const data = new FormData(event.currentTarget);
    const number = (name: string) => {
      const text = String(data.get(name) ?? "")
        .replace(",", ".")
        .trim();
      return text === "" ? null : Number(text);
    };
    const [value, level] = [number("value"), number("level")];
    if (!chosen) return setWrong("How did it end?");
    if (chosen.figure && (value === null || !Number.isFinite(value)))
      return setWrong("The figure is missing.");
    if (mode.ladder && (level === null || !Number.isFinite(level)))
      return setWrong("The setting is missing.");
    correctTry(run, old, {
      outcome: chosen.outcome,
      value: chosen.figure ? value : null,
      mode: old.mode,
      level: mode.ladder ? level : old.level,
      side: old.side,
      fell: chosen.fell,
      form: form === UNMARKED ? null : form,
      note: String(data.get("note") ?? ""),
    });
    onClose();
  };
  return (
    <Sheet
      open
      onClose={onClose}
      title={`Put try ${old.number} right`}
      about={`It says: ${tryWords(old, run)}. That stays kept.`}
    >
      <form onSubmit={submit}>
        <Choice
          legend="How was it?"
          options={marks.map(([key, m]) => [key, m.title === "Keep" ? m.outcome : m.title] as const)}
          value={mark}
          onPick={setMark}
        />
        {chosen?.figure && (
          <Field label={capital(mode.figure || mode.measure)}>
            {(id) => (
              <input
                id={id}
                name="value"
                inputMode="decimal"
                className="field"
                defaultValue={old.value ?? ""}
              />
            )}
          </Field>
        )}
        {mode.ladder && (
          <Field label={`${capital(mode.ladder.dial.replaceAll("-", " "))}, ${mode.ladder.unit}`}>
            {(id) => (
              <input
                id={id}
                name="level"
                inputMode="decimal"
                className="field"
                defaultValue={old.level ?? ""}
              />
            )}
          </Field>
        )}
        <Choice
          legend="Form"
          options={[
            [UNMARKED, UNMARKED],
            ["clean", "clean"],
            ["loose", "loose"],
            ["lost", "lost"],
          ]}
          value={form}
          onPick={setForm}
        />
        <Field label="Note">
          {(id) => <input id={id} name="note" maxLength={2000} className="field" defaultValue={old.note} />}
        </Field>
        {wrong && (
          <p role="alert" className="mb-3 font-bold text-brick">
            {wrong}
          </p>
        )}
        <Button type="submit" kind="act" live>
          Put it right
        </Button>
      </form>
    </Sheet>
  );
}
