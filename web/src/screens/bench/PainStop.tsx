import { type FormEvent, useState } from "react";
import { Button } from "../../parts/Button";
import { Choice, Field } from "../../parts/Field";
import { Sheet } from "../../parts/Sheet";

const JOINTS = [
  "left wrist",
  "right wrist",
  "left elbow",
  "right elbow",
  "left shoulder",
  "right shoulder",
  "neck",
  "back",
].map((joint) => [joint, joint] as const);

interface Props {
  onClose: () => void;
  onStop: (joint: string, level: number) => void;
}

/** Pain ends the test. The joint and 0 to 10 go with the record, and Today asks before the next loading. */
export function PainStop({ onClose, onStop }: Props) {
  const [joint, pickJoint] = useState("");
  const [missing, setMissing] = useState(false);
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    if (!joint) return setMissing(true);
    onStop(joint, Number(new FormData(event.currentTarget).get("level")));
    onClose();
  };
  return (
    <Sheet open onClose={onClose} title="Stop for pain" about="The tries done so far stay kept.">
      <form onSubmit={submit}>
        <Choice legend="Where?" options={JOINTS} value={joint} onPick={pickJoint} />
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
        <p className="mb-4 border-l-4 border-brick bg-sheet px-4 py-3">
          At 4 or more, or if it is sharp or tingles: no loading of this joint today, and a word to see a
          licensed clinician. This is a coach's record, not medical advice; the venue's rules come first.
        </p>
        <Button type="submit" kind="danger" live>
          Stop the test
        </Button>
      </form>
    </Sheet>
  );
}
