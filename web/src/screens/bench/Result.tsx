import { Link } from "react-router";
import type { DrillStanding, JudgedRun } from "../../api/client";
import { Rung } from "../../drawings/Rung";
import { TryStrip } from "../../drawings/TryStrip";
import { type LiveRun, standingTries } from "../../live/run";
import { buttonLook } from "../../parts/Button";
import { Message, Problem } from "../../parts/Message";
import { longDay } from "../../parts/words";
import { TRIES } from "./Live";
import { Figures } from "./SoFar";

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
  return (
    <>
      <p className="text-soft">
        Ten free tries · {longDay(new Date(run.startedAt))}
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
      <div className="mt-4">
        <TryStrip tries={tries} of={Math.max(TRIES, tries.length)} height={150} label="The tries" />
      </div>
      <div className="mt-2 flex flex-wrap gap-3">
        <Link to={`/trainees/${run.trainee}`} className={buttonLook("act", true)}>
          To the wall bars
        </Link>
        <Link to={`/trainees/${run.trainee}/bench`} className={buttonLook("plain", true)}>
          Test again
        </Link>
        <Link to="/" className={buttonLook("quiet", true)}>
          Today
        </Link>
      </div>
    </>
  );
}

const chance = (p: number) => (p < 0.005 ? "below 0.01" : p.toFixed(2));

const closed = (d: DrillStanding) => !d.open && d.state === "not yet";

interface DecidedProps {
  judged: JudgedRun;
  outcome: NonNullable<JudgedRun["outcome"]>;
}

function Decided({ judged, outcome }: DecidedProps) {
  const { score, run } = judged.scored;
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
            {score.reasons.map((reason) => (
              <li key={reason} className="mb-1">
                {reason}
              </li>
            ))}
            {score.unchecked.map((step) => (
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
            <p>No bar moved this time; a dropped day is not a failure.</p>
          )}
        </section>
        <section>
          <h2 className="text-lg">Work on</h2>
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
          <Figures s={score} />
          <p className="mt-1 text-sm text-soft">
            Ranges are Wilson 95 % intervals. Chance that the true rate of 10 s holds is at least 7 of 10:{" "}
            {chance(score.p_ten_second_at_least_0_7)} (uniform prior).
          </p>
        </section>
      </div>
    </>
  );
}
