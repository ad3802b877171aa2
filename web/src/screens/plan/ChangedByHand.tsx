import type { PlanPage } from "../../api/client";
import type { Edit } from "./edits";
import { Questions } from "./Questions";

interface Props {
  page: PlanPage;
  edits: Edit[];
  onPin: (day: string, drill: string) => void;
}

/** What the coach changed by hand, what follows from it, and what could not be had. */
export function ChangedByHand({ page, edits, onPin }: Props) {
  return (
    <section aria-label="Changed by hand">
      <h2 className="text-lg">{edits.length ? "Changed by hand" : "What could not be had"}</h2>
      {edits.length > 0 && (
        <ul className="list-disc pl-5">
          {edits.map((e, n) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: edits are only ever added at the end
            <li key={n}>{e.words}</li>
          ))}
        </ul>
      )}
      {page.changed.length > 0 && edits.length > 0 && (
        <>
          <h3 className="mt-2 font-bold">What follows from it</h3>
          <ul className="list-disc pl-5" data-testid="follows">
            {page.changed.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </>
      )}
      <Questions page={page} onPin={onPin} />
    </section>
  );
}
