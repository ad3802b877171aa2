import { Link } from "react-router";
import type { DrillStanding, JudgedRun, Mode } from "../../api/client";
import { Rung } from "../../drawings/Rung";
import { TryStrip } from "../../drawings/TryStrip";
import { type LiveRun, type LiveTry, standingTries } from "../../live/run";
import { buttonLook } from "../../parts/Button";
import { Message, Problem } from "../../parts/Message";
import { day, longDay } from "../../parts/words";
import { Figures } from "./SoFar";
import { TriesSoFar } from "./TriesSoFar";

interface Props {
  run: LiveRun;
  judged: JudgedRun | undefined;
  waiting: number;
  error: unknown;
}

/** What the run says: the decision first, then why, what to work on, and what moved on the wall bars. */
export function Result({ run, judged, waiting, error }: Props) {
  const tries = standingTries(run);
  const outcome = waiting ? null : judged?.outcome;
  const { test, title, lines } = run.protocol;
  const again = `/trainees/${run.trainee}/bench/test/${test.test}${judged?.scored.run.subject ? `?subject=${judged.scored.run.subject}` : ""}`;
  return (
    <>
      <p className="text-soft">
        {title} · {longDay(new Date(run.startedAt))}
        {run.film ? " · from a film" : run.paper && " · entered from paper"}
        {run.endedAs === "stopped" && ` · stopped after ${tries.length}`}
      </p>
      {outcome && judged ? (
        <Decided judged={judged} outcome={outcome} />
      ) : (
        <>
          <h1 className="text-3xl">All {tries.length} tries are kept in this browser.</h1>
          <Message>
            The decision comes as soon as the server answers
            {waiting ? `; ${waiting} entries are on their way` : ""}. Nothing is lost if this page is closed.
          </Message>
          {error !== null && error !== undefined && <Problem error={error} />}
        </>
      )}
      <div className="mt-4 grid gap-x-10 gap-y-3">
        {inModes(tries, test.modes).map(([mode, mine]) => (
          <section key={mode.mode} className="min-w-0">
            {test.modes.length > 1 && <h2 className="text-base">{mode.title}</h2>}
            <TryStrip
              tries={mine}
              mode={mode}
              line={lines[mode.mode] ?? null}
              of={mode.ladder ? Math.max(8, mine.length) : Math.max(mode.tries.value, mine.length)}
              height={150}
              label={mode.title}
            />
          </section>
        ))}
      </div>
      <TriesSoFar run={run} tries={tries} />
      <div className="mt-3 flex flex-wrap gap-3">
        {judged?.scored.run.test_day && (
          <Link to={`/test-days/${judged.scored.run.test_day}`} className={buttonLook("act", true)}>
            Back to the test day
          </Link>
        )}
        <Link
          to={`/trainees/${run.trainee}`}
          className={buttonLook(judged?.scored.run.test_day ? "plain" : "act", true)}
        >
          To the wall bars
        </Link>
        <Link to={again} className={buttonLook("plain", true)}>
          Test again
        </Link>
        <Link to={`/trainees/${run.trainee}/bench`} className={buttonLook("quiet", true)}>
          Other tests
        </Link>
      </div>
      {judged && judged.earlier.length > 0 && (
        <section className="mt-5">
          <h2 className="text-lg">Compare with an earlier run</h2>
          <ul className="flex flex-wrap gap-x-6">
            {judged.earlier.map((r) => (
              <li key={r.run.id}>
                <Link
                  to={`/trainees/${run.trainee}/bench/${run.id}/compare/${r.run.id}`}
                  className="inline-flex min-h-11 items-center underline"
                >
                  {day(r.run.started_at)}: {r.verdict.summary}
                </Link>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

/** The tries by the way they were measured: each way is a picture of its own. */
const inModes = (tries: LiveTry[], modes: Mode[]): [Mode, LiveTry[]][] =>
  modes
    .map((mode, n): [Mode, LiveTry[]] => [
      mode,
      tries.filter((t) => t.mode === mode.mode || (n === 0 && !t.mode)),
    ])
    .filter(([, mine]) => mine.length);

const closed = (d: DrillStanding) => !d.open && d.state === "not yet";

interface DecidedProps {
  judged: JudgedRun;
  outcome: NonNullable<JudgedRun["outcome"]>;
}

function Decided({ judged, outcome }: DecidedProps) {
  const { verdict, run } = judged.scored;
  return (
    <>
      <h1 className="text-[2.5rem] leading-tight">{outcome.title}</h1>
      {run.pain_joint && (
        <Message danger>
          Stopped for pain: {run.pain_joint}, {run.pain_level} of 10. {judged.pain_advice}
        </Message>
      )}
      <p className="mb-3 text-lg text-soft">{outcome.advice}</p>
      <div className="grid gap-x-14 gap-y-4 lg:grid-cols-[1fr_1fr_22rem]">
        <section>
          <h2 className="text-lg">Why</h2>
          <ul className="list-disc pl-5">
            {verdict.reasons.map((reason) => (
              <li key={reason} className="mb-1">
                {reason}
              </li>
            ))}
            {verdict.unchecked.map((step) => (
              <li key={step} className="mb-1 text-soft">
                Not checked, for want of evidence: {step}.
              </li>
            ))}
          </ul>
          <h2 className="mt-3 text-lg">On the wall bars</h2>
          {outcome.changes.length ? (
            <ul className="list-disc pl-5">
              {outcome.changes.map((change) => (
                <li key={change.sentence} className={change.kind === "closer" ? "" : "font-bold"}>
                  {change.sentence}
                </li>
              ))}
            </ul>
          ) : (
            <p>No change today. An easy day is fine.</p>
          )}
        </section>
        <section>
          {outcome.now && (
            <div className="mb-3 border-l-4 border-blue bg-tint px-3 py-2">
              <h2 className="text-lg">Work on now</h2>
              <p>
                <Link
                  to={`/trainees/${run.trainee}?drill=${outcome.now.drill}`}
                  className="font-bold underline"
                >
                  {outcome.now.title}
                </Link>
                . {outcome.now.sentence}.
              </p>
            </div>
          )}
          {outcome.work_on.length > 0 && <h2 className="text-lg">This test points to</h2>}
          <ul>
            {outcome.work_on.map((d) => (
              <li key={d.drill} className="mb-3 px-3">
                <Link
                  to={`/trainees/${run.trainee}?drill=${d.drill}`}
                  className="flex justify-between gap-3 font-bold"
                >
                  <span className="underline">{d.title}</span>
                  <span className="text-blue">{closed(d) ? "closed" : d.figure}</span>
                </Link>
                <Rung state={d.state} fill={d.fill} open={d.open} />
                <p className="text-sm text-soft">
                  {closed(d) ? `waits for ${d.waits[0]?.sentence ?? ""}` : d.shortfall}
                </p>
              </li>
            ))}
          </ul>
        </section>
        <section aria-label="Figures">
          <Figures v={verdict} />
          <p className="mt-1 text-sm text-soft">{verdict.note}</p>
          {judged.before && (
            <p className="mt-2 text-sm text-soft">
              Last time, {day(judged.before.run.started_at)}: {judged.before.verdict.summary}
            </p>
          )}
        </section>
      </div>
    </>
  );
}
