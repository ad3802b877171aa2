import type { IntakePage } from "../../api/client";
import { Field } from "../../parts/Field";
import type { Answers } from "./answers";
import { Lengths } from "./Lengths";
import { Part } from "./Part";

interface Props {
  page: IntakePage;
  answers: Answers;
  set: (part: Partial<Answers>) => void;
}

/** Stature, mass and the lengths that somebody took. */
export function BodyPart({ page, answers, set }: Props) {
  return (
    <Part title="The body">
      <div className="grid grid-cols-2 gap-x-4">
        <Field label="Stature, cm">
          {(field) => (
            <input
              id={field}
              type="number"
              step="0.1"
              required
              className="field"
              value={answers.stature}
              onChange={(event) => set({ stature: event.target.value })}
            />
          )}
        </Field>
        <Field label="Mass, kg">
          {(field) => (
            <input
              id={field}
              type="number"
              step="0.1"
              className="field"
              value={answers.mass}
              onChange={(event) => set({ mass: event.target.value })}
            />
          )}
        </Field>
      </div>
      <Lengths lengths={page.lengths} typed={answers.lengths} onSet={(lengths) => set({ lengths })} />
    </Part>
  );
}
