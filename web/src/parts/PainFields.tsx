import { type FormEvent, type ReactNode, useState } from "react";
import { Button } from "./Button";
import { Choice, Field } from "./Field";
import { Sheet } from "./Sheet";

interface Props {
  title: string;
  about: string;
  /** The joints to pick from; without them, as with the server away, the joint is typed. */
  joints: readonly string[] | undefined;
  advice: string;
  submit: string;
  /** More to ask, as fields of the form. */
  children?: ReactNode;
  onClose: () => void;
  onTold: (joint: string, level: number, form: FormData) => void;
}

/** Pain, told: which joint, and 0 to 10; with the advice for that much, which is a coach's and no clinician's. */
export function PainFields(props: Props) {
  const [joint, pickJoint] = useState("");
  const [missing, setMissing] = useState(false);
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    if (!joint) return setMissing(true);
    const form = new FormData(event.currentTarget);
    props.onTold(joint, Number(form.get("level")), form);
    props.onClose();
  };
  return (
    <Sheet open onClose={props.onClose} title={props.title} about={props.about}>
      <form onSubmit={submit}>
        {props.joints ? (
          <Choice
            legend="Where?"
            options={props.joints.map((name) => [name, name] as const)}
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
        {props.children}
        <p className="mb-4 border-l-4 border-brick bg-sheet px-4 py-3">
          {props.advice} This is a coach's record, not medical advice. The venue's rules come first.
        </p>
        <Button type="submit" kind="danger" live>
          {props.submit}
        </Button>
      </form>
    </Sheet>
  );
}
