import type { IntakePage } from "../../api/client";
import { Choice, Field } from "../../parts/Field";
import type { Answers } from "./answers";
import { Part } from "./Part";
import { Ticks } from "./Ticks";

const CONFIDENCE = ["1", "2", "3", "4", "5"].map((n) => [n, n] as const);

interface Props {
  page: IntakePage;
  answers: Answers;
  set: (part: Partial<Answers>) => void;
  onToggle: (name: string) => void;
}

/** What a newcomer has done before, in ticks and in their own words, and how sure they feel. */
export function BeforePart({ page, answers, set, onToggle }: Props) {
  return (
    <Part title="What has been done before">
      <Ticks
        items={page.experiences.map((e) => [e.experience, e.title])}
        chosen={answers.experience}
        onToggle={onToggle}
      />
      <Field label="In their own words">
        {(field) => (
          <textarea
            id={field}
            rows={2}
            maxLength={2000}
            className="field"
            value={answers.history}
            onChange={(event) => set({ history: event.target.value })}
          />
        )}
      </Field>
      <Choice
        legend="Confidence upside down, 1 to 5"
        options={CONFIDENCE}
        value={answers.confidence}
        onPick={(confidence) => set({ confidence })}
      />
    </Part>
  );
}
