import type { PlanPage } from "../../api/client";

/** What could not be had as wished, each with what would answer it. */
export function Questions({ page, onPin }: { page: PlanPage; onPin: (day: string, drill: string) => void }) {
  const questions = page.planned?.questions ?? [];
  if (!questions.length) return <p className="text-soft">Everything that was wished for is in.</p>;
  return (
    <ul className="mt-2 grid gap-2">
      {questions.map((q) => (
        <li key={q.text}>
          {q.text}{" "}
          {q.day &&
            q.options.map((drill) => (
              <button
                key={drill}
                type="button"
                className="font-bold underline"
                onClick={() => onPin(q.day ?? "", drill)}
              >
                Pin {(page.titles[drill] ?? drill).toLowerCase()}
              </button>
            ))}
        </li>
      ))}
    </ul>
  );
}
