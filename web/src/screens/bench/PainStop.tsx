import { type FormEvent, useState } from "react";
import { useBench } from "../../api/hooks";
import type { LiveRun } from "../../live/run";
import { Button } from "../../parts/Button";
import { Choice, Field } from "../../parts/Field";
import { Sheet } from "../../parts/Sheet";

interface Props {
  run: LiveRun;
  onClose: () => void;
  onStop: (joint: string, level: number) => void;
}

/** Pain ends the test. The joint and 0 to 10 go with the record, and Today asks before the next loading. */
export function PainStop({ run, onClose, onStop }: Props) {
  // asked for when the test was set up, so it is at hand without a server; without it the joint is typed
  const rule = useBench(run.trainee, run.protocol.test.test).data?.pain;
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
        {rule ? (
          <Choice
            legend="Where?"
            options={rule.joints.map((name) => [name, name] as const)}
            value={joint}
            onPick={pickJoint}
          />
        ) : (
          <Field label="Where?">
            {(id) => (
              <input
                id={id}
                className="field"
                value={joint}
                onChange={(event) => pickJoint(event.target.value)}
              />
            )}
          </Field>
        )}
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
          {rule && `At ${rule.stops_at} or more: ${rule.much} Below that: ${rule.some} `}
          This is a coach's record, not medical advice; the venue's rules come first.
        </p>
        <Button type="submit" kind="danger" live>
          Stop the test
        </Button>
      </form>
    </Sheet>
  );
}
