import { Link } from "react-router";
import type { SessionPage } from "../../api/client";
import { buttonLook } from "../../parts/Button";
import { dayMonth } from "../../parts/words";

/** A session told: done against planned, what it moved, and what changes next time. */
export function Story({ page }: { page: SessionPage }) {
  const { story, trainee, session } = page;
  if (!story) return null;
  return (
    <article>
      <h1 className="text-[2.125rem] leading-tight">
        {trainee.name}, {dayMonth(session.day)}:{" "}
        {story.poor ? "a poor day, well kept." : "the session is kept."}
      </h1>
      {story.poor && (
        <p className="max-w-2xl text-soft">
          It is recorded as a poor day. The step before was the right one. It counts as no failure.
        </p>
      )}
      <div className="mt-4 grid gap-x-12 gap-y-6 lg:grid-cols-[1.4fr_1fr]">
        <section aria-label="Done against planned">
          <h2 className="text-xl">Done against planned</h2>
          <table className="w-full text-left">
            <thead>
              <tr className="text-sm text-soft">
                <th className="font-normal">Block</th>
                <th className="font-normal">Planned</th>
                <th className="font-normal">Done</th>
              </tr>
            </thead>
            <tbody>
              {story.blocks.map((b, n) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: blocks stand in their order and never move
                <tr key={n} className="border-t border-rule align-top">
                  <td className="py-1 pr-3">
                    {b.title}
                    {b.why && <span className="block text-sm text-soft">{b.why}</span>}
                  </td>
                  <td className="py-1 pr-3">{b.planned}</td>
                  <td className="py-1 font-bold">{b.done}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="mt-2 text-sm text-soft">
            {Math.round(story.load_s)} s of body weight on the hands that day (share on the hands × seconds,
            model).
          </p>
        </section>
        <div>
          <section aria-label="What it moved" className="mb-5">
            <h2 className="text-xl">What it moved</h2>
            {story.changes.length ? (
              <ul className="list-disc pl-5">
                {story.changes.map((c) => (
                  <li key={c.sentence}>{c.sentence}</li>
                ))}
              </ul>
            ) : (
              <p className="text-soft">No gate moved. The work is done all the same.</p>
            )}
          </section>
          <section aria-label="Next time">
            <h2 className="text-xl">Next time</h2>
            {story.next_time.length ? (
              <ul className="grid gap-2">
                {story.next_time.map((x) => (
                  <li key={x.title}>
                    <b>{x.title}</b>: {x.now} becomes {x.next}.{" "}
                    <span className="text-sm text-soft">{x.because}</span>
                  </li>
                ))}
              </ul>
            ) : (
              <p className="text-soft">The same again.</p>
            )}
          </section>
        </div>
      </div>
      <p className="mt-5 flex flex-wrap gap-3">
        <Link to={`/trainees/${trainee.id}/plan`} className={buttonLook("act", true)}>
          The week
        </Link>
        <Link to={`/trainees/${trainee.id}`} className={buttonLook("plain", true)}>
          Wall bars
        </Link>
      </p>
    </article>
  );
}
