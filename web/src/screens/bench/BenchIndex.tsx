import { Link, useParams } from "react-router";
import type { TestToPick } from "../../api/client";
import { useTests } from "../../api/hooks";
import { buttonLook } from "../../parts/Button";
import { Message, Problem, Waiting } from "../../parts/Message";
import { day } from "../../parts/words";

/** Every test there is, in the order they are run: what it is for, how long it takes, and what it last said. */
export function BenchIndex() {
  const { id = "" } = useParams();
  const page = useTests(id);
  if (page.isPending) return <Waiting />;
  if (!page.data) return <Problem error={page.error} />;
  const { trainee, tests, uncleared, limits } = page.data;
  return (
    <>
      <div className="mb-3 flex flex-wrap items-baseline gap-x-5">
        <h1 className="text-[2.125rem] leading-tight">Tests for {trainee.name}</h1>
        <p className="text-soft">Open floor while fresh, then landings, floats, push, and mobility last.</p>
        <Link to={`/test-days/new?trainee=${id}`} className={`${buttonLook("act")} ml-auto`}>
          Plan a test day
        </Link>
      </div>
      {uncleared[0] && (
        <Message danger>
          <b>Nothing upside down yet.</b> {uncleared[0].advice}{" "}
          <Link to={`/trainees/${id}/intake`} className="underline">
            Confirm in the intake
          </Link>
        </Message>
      )}
      <ul className="gap-x-12 lg:columns-2">
        {tests.map((test) => (
          <One key={test.test} trainee={id} test={test} />
        ))}
      </ul>
      {limits.length > 0 && (
        <section className="mt-5">
          <h2 className="text-xl">Limits</h2>
          <ul>
            {limits.map((limit) => (
              <li key={`${limit.drill} ${limit.mode}`}>
                {limit.title}: <b>{limit.words}</b>, {day(limit.day)}
                {limit.old && " · an old reading, test again"}
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

function One({ trainee, test }: { trainee: string; test: TestToPick }) {
  return (
    <li className="break-inside-avoid border-b border-rule py-2.5">
      <div className="flex items-baseline justify-between gap-4">
        <Link
          to={`/trainees/${trainee}/bench/test/${test.test}`}
          className="inline-flex min-h-9 items-center text-lg font-bold underline"
        >
          {test.title}
        </Link>
        <span className="whitespace-nowrap text-soft">{test.minutes} min</span>
      </div>
      <p className="text-soft">{test.about}</p>
      {test.held && <p className="font-bold text-brick">Waits: {test.held}</p>}
      {test.open_run && (
        <p>
          <Link to={`/trainees/${trainee}/bench/${test.open_run}`} className="font-bold text-blue underline">
            A run is open: go on
          </Link>
        </p>
      )}
      {test.last && (
        <p className="text-sm">
          {day(test.last.run.started_at)}: <b>{test.last.verdict.summary}</b>{" "}
          <Link
            to={`/trainees/${trainee}/bench/${test.last.run.id}`}
            className="inline-block min-h-6 underline"
          >
            look at it
          </Link>
        </p>
      )}
    </li>
  );
}
