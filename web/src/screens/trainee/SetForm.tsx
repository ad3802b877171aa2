import { type FormEvent, useState } from "react";
import { v7 as uuidv7 } from "uuid";
import type { DrillPage, Form, Reason } from "../../api/client";
import { post } from "../../live/outbox";
import { Button } from "../../parts/Button";
import { Choice, Field } from "../../parts/Field";
import { capital, FORMS } from "../../parts/words";

const SIDES = [
  ["left", "left"],
  ["right", "right"],
] as const;

/** Record one set of a drill; it goes through the outbox, so it is kept whether or not the server answers. */
export function SetForm({ trainee, page }: { trainee: string; page: DrillPage }) {
  const { drill, title } = page.drill;
  const [way, pickWay] = useState(0);
  const gate = page.ways[way] ?? page.drill.gate;
  const asks = page.way_words[way] ?? page.way_words[0];
  const [form, pickForm] = useState<Form | "">("");
  const [side, pickSide] = useState<"left" | "right" | "">("");
  const [missing, setMissing] = useState("");
  const [short, setShort] = useState(false);
  const [reason, pickReason] = useState<Reason | "">("");
  const failed = form === "lost" || short;
  const keep = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const data = new FormData(event.currentTarget);
    const number = (name: string) => (data.get(name) ? Number(data.get(name)) : null);
    if (!form) return setMissing("Was it clean, loose or lost?");
    if (gate.each_side && !side) return setMissing("Which side was it?");
    const value = number("value");
    post({
      path: `/api/trainees/${trainee}/drills/${drill}/sets`,
      body: {
        id: uuidv7(),
        at: new Date().toISOString(),
        value,
        asked: number("asked"),
        n: number("n"),
        form,
        side: side || null,
        confidence: number("confidence"),
        dial_value: number("dial"),
        measure: gate.measure,
        mode: gate.mode ?? null,
        window_s: gate.window_s ?? null,
        reason: (failed && reason) || null,
      },
      words: `${title.toLowerCase()}, ${value}${gate.of ? ` of ${number("n")}` : ""}, ${form}`,
    });
    event.currentTarget.reset();
    pickForm("");
    pickReason("");
    setShort(false);
    setMissing("");
  };
  return (
    <form
      onSubmit={keep}
      onInput={(event) => setShort(fellShort(event.currentTarget, gate))}
      className="mt-4 border-t border-rule pt-4"
    >
      <h3 className="mb-2 text-lg">Record a set</h3>
      {page.ways.length > 1 && (
        <Choice
          legend="What was measured"
          options={page.way_words.map((w, place) => [String(place), w.label] as const)}
          value={String(way)}
          onPick={(place) => pickWay(Number(place))}
        />
      )}
      <SetFields page={page} gate={gate} asks={asks} />
      <Choice legend="Form" options={FORMS} value={form} onPick={pickForm} />
      {gate.each_side && <Choice legend="Side" options={SIDES} value={side} onPick={pickSide} />}
      {failed && (
        <Choice
          legend="Why did it fail? Only where you know"
          options={page.reasons.map((r) => [r.reason, r.title] as const)}
          value={reason}
          onPick={pickReason}
        />
      )}
      {missing && (
        <p role="alert" className="mb-3 font-bold text-brick">
          {missing}
        </p>
      )}
      <Button type="submit" kind="act">
        Keep
      </Button>
    </form>
  );
}

/** Whether a set as it stands in the form did not come to what was asked for. */
function fellShort(form: HTMLFormElement, gate: Way): boolean {
  const data = new FormData(form);
  const [value, asked] = [data.get("value"), data.get("asked")];
  if (!value || !asked) return false;
  return gate.fewer ? Number(value) > Number(asked) : Number(value) < Number(asked);
}

type Way = DrillPage["ways"][number];

interface FieldsProps {
  page: DrillPage;
  gate: Way;
  asks: DrillPage["way_words"][number] | undefined;
}

/** The figures of a set: what was measured, of how many, where the dial stood, how sure. */
function SetFields({ page, gate, asks }: FieldsProps) {
  const { dial } = page.drill;
  return (
    <div className="grid grid-cols-2 gap-x-4">
      <Field label={asks?.ask ?? ""}>
        {(id) => (
          <input
            id={id}
            name="value"
            type="number"
            inputMode="decimal"
            required
            min={asks?.least}
            max={asks?.most}
            step={asks?.step}
            className="field"
          />
        )}
      </Field>
      {gate.of && (
        <Field label="Of how many">
          {(id) => (
            <input
              id={id}
              name="n"
              type="number"
              required
              min={1}
              max={1000}
              defaultValue={gate.of ?? undefined}
              className="field"
            />
          )}
        </Field>
      )}
      {asks?.may_ask && (
        <Field label="Asked for, empty where it was open">
          {(id) => (
            <input
              id={id}
              name="asked"
              type="number"
              inputMode="decimal"
              min={0}
              max={asks?.most}
              step={asks?.step}
              className="field"
            />
          )}
        </Field>
      )}
      {dial && (
        <Field
          label={`${capital(dial.name.replaceAll("-", " "))}, ${dial.unit === "deg" ? "degrees" : (dial.unit ?? "cm")}`}
        >
          {(id) => (
            <input
              id={id}
              name="dial"
              type="number"
              min={-100}
              max={500}
              step={0.5}
              className="field"
              defaultValue={page.setting?.setting}
            />
          )}
        </Field>
      )}
      <Field label="Confidence, 1–5">
        {(id) => <input id={id} name="confidence" type="number" min={1} max={5} className="field" />}
      </Field>
    </div>
  );
}
