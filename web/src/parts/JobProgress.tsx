import type { JobPage } from "../api/client";
import { goesOn } from "../live/useJob";
import { Button } from "./Button";

interface Props {
  job: JobPage | null;
  /** What is done: "Planning". */
  doing: string;
  /** How it is said once it is done: "planned". */
  done: string;
  onStop: () => void;
}

/** How far work of the server has come. It goes on without this page; it can be stopped, and what is done stays. */
export function JobProgress({ job, doing, done: donePast, onStop }: Props) {
  if (!job) return null;
  const { done, total, wrong, state } = job;
  const running = goesOn(job);
  const over =
    state === "stopped" ? "; stopped, what is done stays" : state === "failed" ? "; it failed" : "";
  return (
    <div className="my-4 max-w-xl">
      <p role="status">
        {running
          ? `${doing} ${done} of ${total} … It goes on when you leave this page.`
          : `${done - wrong.length} of ${total} ${donePast}${over}.`}
      </p>
      <div
        role="progressbar"
        aria-label={doing}
        aria-valuenow={done}
        aria-valuemin={0}
        aria-valuemax={total}
        className="my-2 h-3 overflow-hidden rounded bg-lightwood"
      >
        <div className="h-full bg-blue" style={{ width: `${(100 * done) / Math.max(1, total)}%` }} />
      </div>
      {running && <Button onClick={onStop}>Stop</Button>}
      <ul>
        {wrong.map((line) => (
          <li key={line} className="border-l-4 border-ink bg-sheet px-3 py-1">
            {line}
          </li>
        ))}
      </ul>
    </div>
  );
}
