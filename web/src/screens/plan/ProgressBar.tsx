import { Button } from "../../parts/Button";
import type { Progress } from "./many";

/** How far planning for many has come; it can be stopped, and what is planned stays. */
export function ProgressBar({ progress, onStop }: { progress: Progress | null; onStop: () => void }) {
  if (!progress) return null;
  const { done, of, wrong, running } = progress;
  return (
    <div className="my-4 max-w-xl">
      <p role="status">
        {running
          ? `Planning ${done} of ${of} …`
          : `${done - wrong.length} of ${of} planned${done < of ? "; stopped, what is planned stays" : ""}.`}
      </p>
      <div
        role="progressbar"
        aria-label="Planning"
        aria-valuenow={done}
        aria-valuemin={0}
        aria-valuemax={of}
        className="my-2 h-3 overflow-hidden rounded bg-lightwood"
      >
        <div className="h-full bg-blue" style={{ width: `${(100 * done) / Math.max(1, of)}%` }} />
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
