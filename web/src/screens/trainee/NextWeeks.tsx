import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type Outlook } from "../../api/client";
import { useOutlook, useTrainee } from "../../api/hooks";
import { RoadAhead } from "../../drawings/RoadAhead";
import { goesOn, useJob } from "../../live/useJob";
import { Button } from "../../parts/Button";
import { JobProgress } from "../../parts/JobProgress";
import { Message, Problem, Waiting } from "../../parts/Message";
import { dayMonth } from "../../parts/words";

const CHANGES = ["outlook"] as const;

/** The next twelve weeks of a trainee by the model: the road, its spread, and when which step may be passed. */
export function NextWeeks() {
  const { id = "" } = useParams();
  const queries = useQueryClient();
  const trainee = useTrainee(id);
  const page = useOutlook(id);
  const [begun, setBegun] = useState<string | null>(null);
  const [error, setError] = useState<unknown>();
  const { job, stop } = useJob(begun ?? page.data?.under_way?.id ?? null, CHANGES);
  if (page.isPending || trainee.isPending) return <Waiting />;
  if (!page.data || !trainee.data) return <Problem error={page.error ?? trainee.error} />;
  const { outlook, made_on, goal } = page.data;
  const begin = async () => {
    try {
      const made = await ask(
        client.POST("/api/trainees/{id}/outlook", { params: { path: { id } }, body: { id: uuidv7() } }),
      );
      setBegun(made.id);
      setError(undefined);
    } catch (failure) {
      setError(failure);
    }
    void queries.invalidateQueries({ queryKey: ["outlook", id] });
  };
  const { name } = trainee.data.trainee;
  return (
    <>
      <h1 className="text-[2.125rem] leading-tight">The next twelve weeks of {name}</h1>
      <p className="mb-3 max-w-2xl text-soft">
        {outlook ? (
          <>
            Toward {outlook.goal.toLowerCase()}, from what was known on {dayMonth(made_on ?? "")}.{" "}
          </>
        ) : (
          "What the plan would do for somebody like this, week after week. "
        )}
        {outlook?.model ?? "A model and no promise."}
      </p>
      {error !== undefined && <Problem error={error} />}
      {!goal && (
        <Message>
          The next weeks are looked at on the way to a goal.{" "}
          <Link to={`/trainees/${id}`} className="underline">
            Choose one
          </Link>
        </Message>
      )}
      {goal && (
        <Button
          least="coach"
          kind={outlook ? "plain" : "act"}
          live
          disabled={goesOn(job)}
          onClick={() => void begin()}
        >
          {outlook ? "Work it out again, from today" : "Work it out: about half a minute"}
        </Button>
      )}
      {(goesOn(job) || job?.state === "failed") && (
        <JobProgress job={job} doing="Simulated weeks:" done="weeks simulated" onStop={stop} />
      )}
      {outlook && <Road outlook={outlook} />}
    </>
  );
}

function Road({ outlook }: { outlook: Outlook }) {
  const { weeks, gates, lives, now } = outlook;
  const end = weeks.at(-1);
  return (
    <>
      <section aria-label="The road" className="mt-4 max-w-5xl">
        <h2 className="text-xl">
          {now} steps to go now; {end?.middle} after {weeks.length} weeks, in the middle of {lives} simulated
          trainees
        </h2>
        <RoadAhead outlook={outlook} />
      </section>
      <div className="mt-5 grid gap-x-12 gap-y-5 lg:grid-cols-2">
        <section aria-label="Steps of the way">
          <h2 className="text-xl">When which step may be passed</h2>
          {gates.length === 0 && <Message>No step of the way was passed in any of them.</Message>}
          <table className="w-full text-left">
            <thead>
              <tr className="text-sm text-soft">
                <th scope="col" className="font-normal">
                  Step
                </th>
                <th scope="col" className="text-right font-normal">
                  Week, in the middle
                </th>
                <th scope="col" className="text-right font-normal">
                  Passed by
                </th>
              </tr>
            </thead>
            <tbody>
              {gates.map((g) => (
                <tr key={g.drill} className="border-t border-rule">
                  <th scope="row" className="py-1 font-normal">
                    {g.title}
                  </th>
                  <td className="text-right tabular-nums">{g.week}</td>
                  <td className="text-right tabular-nums">
                    {g.lives} of {lives}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
        <section aria-label="Week by week">
          <h2 className="text-xl">Week by week</h2>
          <table className="w-full text-left tabular-nums">
            <thead>
              <tr className="text-sm text-soft">
                <th scope="col" className="font-normal">
                  Week of
                </th>
                <th scope="col" className="text-right font-normal">
                  Steps left
                </th>
                <th scope="col" className="text-right font-normal">
                  Fewest to most
                </th>
                <th scope="col" className="text-right font-normal">
                  Goal reached
                </th>
                <th scope="col" className="text-right font-normal">
                  Hand-load
                </th>
              </tr>
            </thead>
            <tbody>
              {weeks.map((w) => (
                <tr key={w.week} className="border-t border-rule">
                  <th scope="row" className="py-1 font-normal">
                    {dayMonth(w.week)}
                  </th>
                  <td className="text-right">{w.middle}</td>
                  <td className="text-right">
                    {w.least}–{w.most}
                  </td>
                  <td className="text-right">
                    {w.reached} of {lives}
                  </td>
                  <td className="text-right">{Math.round(w.load_s)} s</td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="mt-1 text-sm text-soft">Hand-load: seconds of whole body weight on the hands.</p>
        </section>
      </div>
    </>
  );
}
