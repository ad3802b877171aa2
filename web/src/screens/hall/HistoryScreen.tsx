import { useState } from "react";
import { Link } from "react-router";
import { useHall, useHallHistory } from "../../api/hall";
import { Button } from "../../parts/Button";
import { Field } from "../../parts/Field";
import { Message, Problem, Waiting } from "../../parts/Message";
import { day, hour, longDay } from "../../parts/words";

/** Who did what in the hall, a week at a time. */
export function HistoryScreen() {
  const [last, setLast] = useState<string | null>(null);
  const [by, setBy] = useState<string | null>(null);
  const hall = useHall();
  const history = useHallHistory(last, by);
  if (history.isPending) return <Waiting />;
  if (!history.data) return <Problem error={history.error} />;
  const page = history.data;
  const shift = (days: number) => {
    const to = new Date(`${page.last}T12:00:00Z`);
    to.setUTCDate(to.getUTCDate() + days);
    setLast(to.toISOString().slice(0, 10));
  };
  const days = new Map<string, typeof page.deeds>();
  for (const deed of page.deeds) {
    const date = new Date(deed.at).toDateString();
    days.set(date, [...(days.get(date) ?? []), deed]);
  }
  return (
    <>
      <p className="text-soft">
        <Link to="/hall" className="underline">
          The hall
        </Link>
      </p>
      <h1 className="mb-3 text-[2.125rem] leading-tight">
        Who did what, {day(page.first)} to {day(page.last)}
      </h1>
      <div className="mb-4 flex flex-wrap items-end gap-3 [&>div]:mb-0">
        <Field label="By whom">
          {(id) => (
            <select
              id={id}
              className="field"
              value={by ?? ""}
              onChange={(event) => setBy(event.target.value || null)}
            >
              <option value="">everybody</option>
              {(hall.data?.people ?? []).map((person) => (
                <option key={person.id} value={person.id}>
                  {person.name}
                </option>
              ))}
            </select>
          )}
        </Field>
        <Button onClick={() => shift(-7)}>A week earlier</Button>
        {last && <Button onClick={() => shift(7)}>A week later</Button>}
      </div>
      {page.more && (
        <Message>These days hold more than is shown. The newest come first; look by whom.</Message>
      )}
      {page.deeds.length === 0 && <Message>Nothing in these days.</Message>}
      {[...days].map(([date, deeds]) => (
        <section key={date} aria-label={longDay(new Date(date))} className="mb-6 max-w-3xl">
          <h2 className="mb-1 border-b border-rule text-lg">{longDay(new Date(date))}</h2>
          <ul>
            {deeds.map((deed, n) => (
              <li
                // biome-ignore lint/suspicious/noArrayIndexKey: a deed has no id, and the list is never reordered
                key={`${deed.at} ${n}`}
                className="grid grid-cols-[3.5rem_1fr] gap-x-3 border-b border-rule py-1.5"
              >
                <span className="text-soft">{hour(deed.at)}</span>
                <span>
                  <b>{deed.by || "Somebody"}</b> {deed.what}
                  {deed.trainee && (
                    <>
                      {" · "}
                      <Link to={`/trainees/${deed.trainee}`} className="underline">
                        {deed.name}
                      </Link>
                    </>
                  )}
                </span>
              </li>
            ))}
          </ul>
        </section>
      ))}
    </>
  );
}
