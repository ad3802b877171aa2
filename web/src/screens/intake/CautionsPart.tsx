import type { IntakePage } from "../../api/client";
import { Message } from "../../parts/Message";
import type { Answers } from "./answers";
import { Caution } from "./Caution";
import { Part } from "./Part";

interface Props {
  page: IntakePage;
  answers: Answers;
  set: (part: Partial<Answers>) => void;
}

/** The questions about health, and the coach's confirmation where an answer asks for it. */
export function CautionsPart({ page, answers, set }: Props) {
  const { trainee } = page;
  const asks = asksFor(page, answers);
  return (
    <Part title="Ask each of these">
      <ul>
        {page.cautions.map((q) => (
          <Caution
            key={q.caution}
            question={q.question}
            advice={q.advice}
            value={answers.cautions[q.caution] ?? ""}
            onPick={(answer) =>
              // a confirmation speaks of the answers it was given for, and of no others
              set({ cautions: { ...answers.cautions, [q.caution]: answer }, cleared: false })
            }
          />
        ))}
      </ul>
      {asks.length > 0 && (
        <Message danger>
          <p className="mb-2">
            <b>{[...new Set(asks.map((q) => q.advice))].join(" ")}</b> Until you confirm, nothing upside down
            is open for {trainee.name}. This is a coach's record, not medical advice. The venue's rules and
            your licence come first.
          </p>
          <label className="flex min-h-11 cursor-pointer items-center gap-3">
            <input
              type="checkbox"
              className="h-5 w-5 accent-blue"
              checked={answers.cleared}
              onChange={(event) => set({ cleared: event.target.checked })}
            />
            That was done, and I confirm.
          </label>
        </Message>
      )}
    </Part>
  );
}

/** The cautions whose answers ask for a clinician's word. */
export const asksFor = (page: IntakePage, answers: Answers) =>
  page.cautions.filter((q) => q.clinician && answers.cautions[q.caution] === "yes");
