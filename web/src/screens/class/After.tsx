import { useClassAfter } from "../../api/classNight";
import type { ClassPage } from "../../api/client";
import { Problem, Waiting } from "../../parts/Message";

/** The evening looked back at: done against planned, whose turn the coach's hands were, what changes next time. */
export function After({ page }: { page: ClassPage }) {
  const after = useClassAfter(page.id, true);
  if (after.isPending) return <Waiting />;
  if (!after.data) return <Problem error={after.error} />;
  const { people, next_time } = after.data;
  const most = Math.max(1, ...people.map((p) => p.hands_weeks_min));
  return (
    <div className="grid gap-x-10 gap-y-6 lg:grid-cols-[minmax(0,1.6fr)_minmax(0,1fr)]">
      <section>
        <h2 className="mb-2 text-xl">Done against planned</h2>
        <ul>
          {people.map((p) => (
            <li key={p.trainee} className="border-b border-rule py-2">
              <div className="grid gap-x-6 sm:grid-cols-[11rem_minmax(0,1fr)]">
                <b className="font-head text-lg">{p.name}</b>
                <div>
                  <p>{p.words}</p>
                  <p className="flex items-center gap-3 text-soft">
                    <span aria-hidden="true" className="block h-2.5 w-32 shrink-0 bg-lightwood">
                      <span
                        className="block h-full bg-blue"
                        style={{ width: `${(100 * p.hands_weeks_min) / most}%` }}
                      />
                    </span>
                    {p.hands_words}
                  </p>
                </div>
              </div>
              {p.done.length > 0 && (
                <details className="mt-1">
                  <summary className="cursor-pointer text-sm text-soft">Block by block</summary>
                  <ul className="text-sm">
                    {p.done.map((d) => (
                      <li key={`${d.title} ${d.planned}`}>
                        {d.title}: {d.planned}. {d.done || d.status}
                      </li>
                    ))}
                  </ul>
                </details>
              )}
            </li>
          ))}
        </ul>
      </section>
      <section>
        <h2 className="mb-2 text-xl">Next time</h2>
        {next_time.length === 0 ? (
          <p>Nothing changes.</p>
        ) : (
          <ul>
            {next_time.map((words) => (
              <li key={words} className="border-b border-rule py-2">
                {words}
              </li>
            ))}
          </ul>
        )}
      </section>
    </div>
  );
}
