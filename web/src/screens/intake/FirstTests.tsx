import { Link, useParams } from "react-router";
import type { IntakePage } from "../../api/client";

type Day = NonNullable<IntakePage["first_tests"]>["one_day"];

/** Which tests to run first, in how many minutes, over one day or two. */
export function FirstTests({ page }: { page: IntakePage }) {
  const plan = page.first_tests;
  if (!plan) return <p className="mt-4 text-soft">Once the intake is kept, the first tests stand here.</p>;
  return (
    <section className="mt-5" aria-label="First tests">
      <h2 className="border-b border-rule text-xl">First tests</h2>
      <p className="my-1">{plan.advice}</p>
      {plan.two_days.map((day, place) => (
        <TestDay
          key={day.tests[0]?.test ?? place}
          title={plan.two_days.length > 1 ? ["First day", "Second day"][place] : undefined}
          day={day}
        />
      ))}
      {plan.later.length > 0 && (
        <details className="mt-2">
          <summary className="cursor-pointer text-soft">{plan.later.length} left for later</summary>
          <ul className="list-disc pl-5 text-sm">
            {plan.later.map((test) => (
              <li key={test.title}>
                {test.title}: {test.because}.
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}

function TestDay({ title, day }: { title: string | undefined; day: Day }) {
  const { id = "" } = useParams();
  return (
    <>
      <h3 className="mt-2 text-lg">
        {title ?? "One day"} · {day.minutes} min
      </h3>
      <ol className="list-decimal pl-5">
        {day.tests.map((test) => (
          <li key={test.test}>
            <Link
              to={`/trainees/${id}/bench/test/${test.bench}${test.subject ? `?subject=${test.subject}` : ""}`}
              className="inline-block min-h-6 font-bold underline"
            >
              {test.title}
            </Link>
            , {test.minutes.value} min. {test.setup} <span className="text-sm text-soft">{test.because}</span>
          </li>
        ))}
      </ol>
    </>
  );
}
