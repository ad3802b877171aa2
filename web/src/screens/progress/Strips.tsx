import { Link } from "react-router";
import { useStrips } from "../../api/progress";
import { TryStrip } from "../../drawings/TryStrip";
import { dayMonth } from "../../parts/words";

const SHOWN = 6;

/** Every test of single tries in one column, the newest first. */
export function Strips({ trainee }: { trainee: string }) {
  const runs = useStrips(trainee).data ?? [];
  if (!runs.length) return null;
  const strip = (run: (typeof runs)[number]) => (
    <li key={run.run.id}>
      <p className="text-sm">
        <Link to={`/trainees/${trainee}/bench/${run.run.id}`} className="underline">
          {run.title} · {dayMonth(run.day)}
        </Link>{" "}
        <span className="text-soft">
          {run.verdict.summary}
          {run.run.ended_as === "pain" && ", stopped for pain"}
        </span>
      </p>
      <TryStrip
        tries={run.run.tries.filter((t) => !t.struck_at && (!t.mode || t.mode === run.mode.mode))}
        mode={run.mode}
        line={run.line}
        of={Math.max(run.mode.tries.value, run.verdict.n)}
        height={84}
        small
        label={`${run.title} of ${dayMonth(run.day)}`}
      />
    </li>
  );
  return (
    <section aria-label="Tests of single tries">
      <h2 className="mb-1 text-xl">Test by test</h2>
      <ol>{runs.slice(0, SHOWN).map(strip)}</ol>
      {runs.length > SHOWN && (
        <details>
          <summary className="min-h-6 cursor-pointer text-soft">{runs.length - SHOWN} earlier ones</summary>
          <ol>{runs.slice(SHOWN).map(strip)}</ol>
        </details>
      )}
    </section>
  );
}
