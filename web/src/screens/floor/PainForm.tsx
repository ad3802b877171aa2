import { type FormEvent, useState } from "react";
import type { FloorSheet, Pain } from "../../api/client";
import { Button } from "../../parts/Button";
import { Choice, Field } from "../../parts/Field";
import { Sheet } from "../../parts/Sheet";

interface Props {
  sheet: FloorSheet;
  onClose: () => void;
  onPain: (pain: Pain) => void;
}

/** Pain in a session: which joint, 0 to 10. The rest of the session changes at once, and says how. */
export function PainForm({ sheet, onClose, onPain }: Props) {
  const [joint, pickJoint] = useState("");
  const [missing, setMissing] = useState(false);
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    if (!joint) return setMissing(true);
    const data = new FormData(event.currentTarget);
    onPain({ joint, level: Number(data.get("level")), sharp: data.get("sharp") === "on" });
    onClose();
  };
  const rules = sheet.changes;
  return (
    <Sheet open onClose={onClose} title="Pain stop" about="What was done so far stays kept.">
      <form onSubmit={submit}>
        <Choice
          legend="Where?"
          options={sheet.joints.map((name) => [name, name] as const)}
          value={joint}
          onPick={pickJoint}
        />
        {missing && !joint && (
          <p role="alert" className="mb-3 font-bold text-brick">
            Which joint hurts?
          </p>
        )}
        <Field label="How much, 0 to 10?">
          {(id) => (
            <input
              id={id}
              name="level"
              type="number"
              inputMode="numeric"
              min={0}
              max={10}
              required
              className="field"
            />
          )}
        </Field>
        <label className="mb-4 flex min-h-11 items-center gap-3">
          <input type="checkbox" name="sharp" className="h-6 w-6 accent-blue" />
          sharp, lasting or tingling
        </label>
        <p className="mb-4 border-l-4 border-brick bg-sheet px-4 py-3">
          {rules.stops_at} or more, or sharp: {rules.much} {rules.some} This is a coach's record, not medical
          advice; the venue's rules come first.
        </p>
        <Button type="submit" kind="danger" live>
          Change the session
        </Button>
      </form>
    </Sheet>
  );
}
