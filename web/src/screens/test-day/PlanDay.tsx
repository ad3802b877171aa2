import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useSearchParams } from "react-router";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type TestDayPage } from "../../api/client";
import { useTestDays, useTests, useToday } from "../../api/hooks";
import { Button } from "../../parts/Button";
import { Problem, Waiting } from "../../parts/Message";
import { longDay } from "../../parts/words";

/** Pick trainees and tests, see the minutes at honest rests, and split them over two days if need be. */
export function PlanDay() {
  const [search] = useSearchParams();
  const first = search.get("trainee");
  const [who, setWho] = useState<string[]>(first ? [first] : []);
  const [tests, setTests] = useState<Record<string, string>>({});
  /** Who does not do a test, and whose drill is another one than everybody's; by trainee and test. */
  const [apart, setApart] = useState<Apart>({});
  const [split, setSplit] = useState(false);
  const [wrong, setWrong] = useState<unknown>(null);
  const go = useNavigate();
  const roster = useToday().data ?? [];
  const names = Object.keys(tests);
  const turns = who.flatMap((trainee) =>
    names
      .filter((test) => apart[`${trainee} ${test}`] !== null)
      .map((test) => ({ trainee, test, subject: apart[`${trainee} ${test}`] ?? tests[test] ?? "" })),
  );
  const ready = turns.length > 0;
  const look = useQuery({
    queryKey: ["test-day-look", turns, split],
    queryFn: () => ask(client.POST("/api/test-days/look", { body: { turns, split } })),
    enabled: ready,
    placeholderData: (before) => before,
  });
  const keep = () => {
    const id = uuidv7();
    void ask(
      client.POST("/api/test-days", { body: { id, at: new Date().toISOString(), turns, split } }),
    ).then(() => go(`/test-days/${id}`), setWrong);
  };
  const flip = (id: string) => setWho(who.includes(id) ? who.filter((w) => w !== id) : [...who, id]);
  return (
    <>
      <h1 className="mb-3 text-[2.125rem] leading-tight">A test day</h1>
      {wrong !== null && <Problem error={wrong} />}
      <div className="grid gap-x-14 gap-y-6 lg:grid-cols-[1fr_1fr_22rem]">
        <section>
          <h2 className="mb-2 text-xl">Who?</h2>
          <Ticks options={roster.map((t) => [t.id, t.name])} on={(id) => who.includes(id)} onFlip={flip} />
        </section>
        <section>
          <h2 className="mb-2 text-xl">Which tests?</h2>
          {who[0] ? (
            <Tests
              trainee={who[0]}
              tests={tests}
              onTests={setTests}
              people={roster.filter((t) => who.includes(t.id))}
              apart={apart}
              onApart={setApart}
            />
          ) : (
            <p className="text-soft">First who.</p>
          )}
        </section>
        <section aria-label="The plan">
          <h2 className="mb-2 text-xl">In this order</h2>
          {ready && look.data ? (
            <Order page={look.data} />
          ) : (
            <p className="text-soft">Open floor comes first and mobility last.</p>
          )}
          {look.error && <Problem error={look.error} />}
          <label className="my-3 flex min-h-11 items-center gap-3">
            <input
              type="checkbox"
              className="h-6 w-6 accent-blue"
              checked={split}
              onChange={(event) => setSplit(event.target.checked)}
            />
            Split over two days
          </label>
          <Button least="coach" kind="act" live disabled={!ready} onClick={keep}>
            Keep this test day
          </Button>
        </section>
      </div>
      <Kept />
    </>
  );
}

interface TicksProps {
  options: [string, string][];
  on: (key: string) => boolean;
  onFlip: (key: string) => void;
}

function Ticks({ options, on, onFlip }: TicksProps) {
  return (
    <ul>
      {options.map(([key, words]) => (
        <li key={key}>
          <label className="flex min-h-11 cursor-pointer items-center gap-3 border-b border-rule">
            <input
              type="checkbox"
              className="h-6 w-6 accent-blue"
              checked={on(key)}
              onChange={() => onFlip(key)}
            />
            {words}
          </label>
        </li>
      ))}
    </ul>
  );
}

/** By trainee and test: null for somebody who does not do it, else the drill that is tested in theirs. */
type Apart = Record<string, string | null>;

interface TestsProps {
  trainee: string;
  tests: Record<string, string>;
  onTests: (tests: Record<string, string>) => void;
  people: { id: string; name: string }[];
  apart: Apart;
  onApart: (apart: Apart) => void;
}

/** The tests to tick; where one is run for a drill, which drill. */
function Tests({ trainee, tests, onTests, people, apart, onApart }: TestsProps) {
  const page = useTests(trainee);
  if (!page.data) return <Waiting />;
  return (
    <ul>
      {page.data.tests.map((test) => {
        const on = test.test in tests;
        const flip = () => {
          const { [test.test]: _, ...others } = tests;
          onTests(on ? others : { ...tests, [test.test]: test.subjects[0]?.drill ?? "" });
        };
        return (
          <li key={test.test} className="border-b border-rule">
            <label className="flex min-h-11 cursor-pointer items-center gap-3">
              <input type="checkbox" className="h-6 w-6 accent-blue" checked={on} onChange={flip} />
              <span className="grow">{test.title}</span>
              <span className="text-soft">{test.minutes} min</span>
            </label>
            {on && test.subjects.length > 1 && (
              <select
                aria-label={`Which drill for ${test.title}`}
                className="field mb-2"
                value={tests[test.test]}
                onChange={(event) => onTests({ ...tests, [test.test]: event.target.value })}
              >
                {test.subjects.map((s) => (
                  <option key={s.drill} value={s.drill}>
                    {s.title}
                  </option>
                ))}
              </select>
            )}
            {on && people.length > 1 && (
              <ul className="mb-2 pl-9" aria-label={`Who does ${test.title}?`}>
                {people.map((t) => (
                  <Who
                    key={t.id}
                    name={t.name}
                    test={test}
                    usual={tests[test.test] ?? ""}
                    said={apart[`${t.id} ${test.test}`]}
                    onSay={(said) => onApart({ ...apart, [`${t.id} ${test.test}`]: said })}
                  />
                ))}
              </ul>
            )}
          </li>
        );
      })}
    </ul>
  );
}

interface WhoProps {
  name: string;
  test: { title: string; subjects: { drill: string; title: string }[] };
  usual: string;
  said: string | null | undefined;
  onSay: (said: string | null) => void;
}

/** One trainee's part in a test: whether at all, and for which drill. */
function Who({ name, test, usual, said, onSay }: WhoProps) {
  const does = said !== null;
  return (
    <li className="flex flex-wrap items-center gap-x-3">
      <label className="flex min-h-11 flex-1 cursor-pointer items-center gap-3">
        <input
          type="checkbox"
          className="size-5 accent-blue"
          checked={does}
          onChange={() => onSay(does ? null : usual)}
        />
        {name}
      </label>
      {does && test.subjects.length > 1 && (
        <select
          aria-label={`${test.title}: which drill for ${name}`}
          className="field w-44 max-w-full py-1 text-sm"
          value={said ?? usual}
          onChange={(event) => onSay(event.target.value)}
        >
          {test.subjects.map((s) => (
            <option key={s.drill} value={s.drill}>
              {s.title}
            </option>
          ))}
        </select>
      )}
    </li>
  );
}

/** The turns by day, with the minutes of each. */
export function Order({ page }: { page: TestDayPage }) {
  return page.minutes.map((minutes) => {
    const mine = page.turns.filter((t) => t.day === minutes.day);
    const titles = [...new Set(mine.map((t) => t.title))];
    return (
      <div key={minutes.day} className="mb-3">
        <p className="font-bold">
          {page.minutes.length > 1 ? `Day ${minutes.day}: ` : ""}about {minutes.together} minutes, warm-up
          included
        </p>
        <ol className="list-decimal pl-6">
          {titles.map((title) => (
            <li key={title}>
              {title}{" "}
              <span className="text-soft">
                {mine
                  .filter((t) => t.title === title)
                  .map((t) => t.name)
                  .join(", ")}
              </span>
            </li>
          ))}
        </ol>
        {page.trainees.length > 1 && <p className="text-sm text-soft">While one rests the next one tries.</p>}
      </div>
    );
  });
}

function Kept() {
  const days = useTestDays().data ?? [];
  if (!days.length) return null;
  return (
    <section className="mt-6">
      <h2 className="text-xl">Kept test days</h2>
      <ul>
        {days.map((day) => (
          <li key={day.id}>
            <Link to={`/test-days/${day.id}`} className="inline-flex min-h-11 items-center underline">
              {day.at && longDay(new Date(day.at))}: {day.trainees.map((t) => t.name).join(", ")}
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}
