import { Link, useParams } from "react-router";
import type { Comparison, ScoredRun } from "../../api/client";
import { useComparison } from "../../api/hooks";
import { TryStrip } from "../../drawings/TryStrip";
import { useLiveRun } from "../../live/useLiveRun";
import { buttonLook } from "../../parts/Button";
import { Message, Problem, Waiting } from "../../parts/Message";
import { longDay } from "../../parts/words";

const CALLS: Record<Comparison["changes"][number]["call"], string> = {
  real: "more than noise",
  noise: "noise, as far as this can tell",
  "too few": "too few tries to tell",
};

/** Two runs of a test side by side: strips, shares with their ranges, and whether what changed is more than noise. */
export function Compare() {
  const { id = "", run = "", other = "" } = useParams();
  const [a, b] = [useLiveRun(run), useLiveRun(other)];
  const found = useComparison(run, other);
  if (found.error) return <Problem error={found.error} />;
  if (!found.data || !a.judged || !b.judged) return <Waiting />;
  const [first, second] = [a.judged.scored, b.judged.scored].sort((x, y) =>
    x.run.started_at < y.run.started_at ? -1 : 1,
  ) as [ScoredRun, ScoredRun];
  const others = a.judged.earlier.filter((r) => r.run.id !== other);
  return (
    <>
      <h1 className="text-[2.125rem] leading-tight">{first.title}, two runs</h1>
      <div className="mt-3 grid gap-x-12 gap-y-4 lg:grid-cols-2">
        <OneRun scored={first} which="earlier" trainee={id} />
        <OneRun scored={second} which="later" trainee={id} />
      </div>
      {found.data.refused ? (
        <Message>{found.data.refused}</Message>
      ) : (
        // biome-ignore lint/a11y/noNoninteractiveTabindex: what scrolls sideways on a phone must be reached by keys
        <section className="mt-5 overflow-x-auto" tabIndex={0} aria-label="What changed">
          <table className="w-full min-w-[40rem]">
            <caption className="sr-only">What changed from the earlier run to the later</caption>
            <thead>
              <tr className="border-b-2 border-ink text-left">
                <th scope="col" className="py-2">
                  figure
                </th>
                <th scope="col">earlier</th>
                <th scope="col">later</th>
                <th scope="col">real or noise?</th>
              </tr>
            </thead>
            <tbody>
              {found.data.changes.map((change) => (
                <tr key={change.title} className="border-b border-rule align-top">
                  <th scope="row" className="py-3 pr-4 text-left font-normal">
                    {change.title}
                    <span className="block text-sm text-blue">{change.gate}</span>
                  </th>
                  <Figure figure={change.first} beside={change.first_beside} />
                  <Figure figure={change.second} beside={change.second_beside} />
                  <td className="max-w-xl py-3">
                    <b>{CALLS[change.call]}.</b> {change.sentence}
                    <span className="block text-sm text-soft">{change.method}</span>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      {others.length > 0 && (
        <p className="mt-4">
          Another earlier run:{" "}
          {others.map((r) => (
            <Link
              key={r.run.id}
              to={`/trainees/${id}/bench/${run}/compare/${r.run.id}`}
              className="mr-5 inline-flex min-h-11 items-center underline"
            >
              {longDay(new Date(r.run.started_at))}
            </Link>
          ))}
        </p>
      )}
      <p className="mt-4">
        <Link to={`/trainees/${id}/bench/${run}`} className={buttonLook("plain", true)}>
          Back to the result
        </Link>
      </p>
    </>
  );
}

function Figure({ figure, beside }: { figure: string; beside: string }) {
  return (
    <td className="whitespace-nowrap py-3 pr-6">
      <b className="text-[1.0625rem]">{figure}</b>
      <span className="block text-sm text-soft">{beside}</span>
    </td>
  );
}

function OneRun({ scored, which, trainee }: { scored: ScoredRun; which: string; trainee: string }) {
  const { run, mode, verdict, line } = scored;
  const tries = run.tries.filter((t) => !t.struck_at && (!t.mode || t.mode === mode.mode));
  return (
    <section aria-label={which} className="min-w-0">
      <h2 className="text-lg">
        <Link to={`/trainees/${trainee}/bench/${run.id}`} className="underline">
          {longDay(new Date(run.started_at))}
        </Link>
        <span className="ml-3 font-sans text-base font-normal text-soft">{verdict.summary}</span>
      </h2>
      <TryStrip
        tries={tries}
        mode={mode}
        line={line}
        of={Math.max(mode.ladder ? 8 : mode.tries.value, tries.length)}
        height={150}
        label={which}
      />
    </section>
  );
}
