import { useProgress } from "../../api/progress";

/** Said where a programme is about to be changed: that the course is to be kept, or that it was changed a short while ago. */
export function BeforeAChange({ trainee }: { trainee: string }) {
  const page = useProgress(trainee, "").data;
  const lately = page?.turns.find((turn) => turn.kind === "programme");
  const said = [page?.stay, lately && `${lately.sentence} ${lately.because}`].filter(Boolean);
  return said.map((words) => (
    <p key={words} className="mb-3 border-l-4 border-wood bg-sheet px-3 py-1.5">
      {words}
    </p>
  ));
}
