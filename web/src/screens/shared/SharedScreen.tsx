import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useParams } from "react-router";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type DrawnDrill, type SharedDay, type SharedPage } from "../../api/client";
import { useSharedDrawings } from "../../api/drawings";
import { useShared } from "../../api/hooks";
import { DrillPicture } from "../../drawings/DrillPicture";
import { Button } from "../../parts/Button";
import { Message, Problem, Waiting } from "../../parts/Message";
import { dayMonth, weekdayLong } from "../../parts/words";

/** A trainee's own page by its secret address: the sessions to read, and a number per set to send back. */
export function SharedScreen() {
  const { token = "" } = useParams();
  const page = useShared(token);
  return (
    <main id="main" className="mx-auto max-w-2xl px-5 pb-10 pt-6">
      {page.isPending && <Waiting />}
      {!page.data && page.error && <Problem error={page.error} />}
      {page.data && <Sessions page={page.data} token={token} />}
    </main>
  );
}

function Sessions({ page, token }: { page: SharedPage; token: string }) {
  const drills = page.days.flatMap((d) => d.blocks.map((b) => b.drill)).filter(Boolean);
  const drawings = useSharedDrawings(token, [...new Set(drills)]);
  return (
    <>
      <h1 className="text-3xl leading-tight">{page.name}'s sessions</h1>
      <p className="mb-4 text-soft">
        From your coach. Never through pain: stop, and tell your coach. Sharp or tingling pain belongs to a
        licensed clinician. The venue's rules come first.
      </p>
      {page.habits.length > 0 && <Habits page={page} token={token} />}
      {page.road.length > 0 && (
        <details className="mb-6 border-t-4 border-wood pt-2">
          <summary className="min-h-11 cursor-pointer font-head text-2xl font-bold">Your road</summary>
          {page.road.map((s) => (
            <section key={s.section} aria-label={s.title} className="mb-2">
              <h3 className="font-bold">{s.title}</h3>
              <p>{s.words}</p>
            </section>
          ))}
        </details>
      )}
      {page.days.length === 0 && <Message>Nothing is planned for this week or the next.</Message>}
      {page.days.map((day) => (
        <Session key={day.day} day={day} on={page.on} token={token} drawings={drawings.data ?? []} />
      ))}
    </>
  );
}

/** Small things by the day, with their minutes. Nothing to keep up: a day without them is a day. */
function Habits({ page, token }: { page: SharedPage; token: string }) {
  const queries = useQueryClient();
  const [wrong, setWrong] = useState<unknown>(null);
  const tell = (habit: string, minutes: number) => {
    const body = { at: new Date().toISOString(), day: page.on, habit, minutes };
    ask(client.POST("/api/shared/{token}/habits", { params: { path: { token } }, body })).then((next) => {
      setWrong(null);
      queries.setQueryData(["shared", token], next);
    }, setWrong);
  };
  return (
    <section aria-labelledby="habits" className="mb-6">
      <h2 id="habits" className="text-2xl">
        Every day
      </h2>
      <ul>
        {page.habits.map((h) => (
          <li key={h.habit} className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule py-2">
            <label className="flex min-h-11 flex-1 items-center gap-3">
              <input
                type="checkbox"
                className="size-6 shrink-0 accent-blue"
                // its own at once: the answer of a slow line is not waited for
                key={h.today}
                defaultChecked={h.today > 0}
                onChange={(event) => tell(h.habit, event.target.checked ? h.usual : 0)}
              />
              <span>
                <b>{h.title}</b>
                <span className="block text-sm text-soft">{h.about}</span>
              </span>
            </label>
            <label className="text-sm text-soft">
              <input
                key={h.today}
                type="number"
                inputMode="decimal"
                min={0}
                max={240}
                step="any"
                aria-label={`${h.title}, minutes today`}
                className="field w-20 text-base text-ink"
                defaultValue={h.today || ""}
                onBlur={(event) => {
                  const minutes = Number(event.target.value);
                  if (minutes !== h.today) tell(h.habit, minutes);
                }}
              />{" "}
              min today{h.week > h.today && `, ${h.week} in seven days`}
            </label>
          </li>
        ))}
      </ul>
      {wrong !== null && <Problem error={wrong} />}
    </section>
  );
}

interface SessionProps {
  day: SharedDay;
  on: string;
  token: string;
  drawings: DrawnDrill[];
}

function Session({ day, on, token, drawings }: SessionProps) {
  const queries = useQueryClient();
  const [wrong, setWrong] = useState<unknown>(null);
  const [id] = useState(() => uuidv7());
  const told = Object.keys(day.sent).length > 0;
  const open = !day.done && day.day <= on;
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const data = new FormData(event.currentTarget);
    const blocks = day.blocks
      .filter((b) => b.sets > 0 && b.unit)
      .map((b) => ({
        number: b.number,
        values: Array.from({ length: b.sets }, (_, n) =>
          String(data.get(`${b.number} ${n}`) ?? "").replace(",", "."),
        )
          .filter((text) => text !== "")
          .map(Number),
      }))
      .filter((b) => b.values.length > 0);
    const body = { id, at: new Date().toISOString(), day: day.day, blocks };
    ask(client.POST("/api/shared/{token}/done", { params: { path: { token } }, body })).then((page) => {
      setWrong(null);
      queries.setQueryData(["shared", token], page);
    }, setWrong);
  };
  return (
    <form onSubmit={submit} className="mb-8 border-t-4 border-wood pt-2" aria-label={weekdayLong(day.day)}>
      <h2 className="text-2xl">
        {weekdayLong(day.day)} {dayMonth(day.day)}
      </h2>
      <p className="text-soft">
        {[day.place, day.time, `${day.minutes} min`].filter(Boolean).join(", ")}
        {day.done && (told ? " · sent to your coach" : " · done with your coach")}
      </p>
      <ol>
        {day.blocks.map((block) => (
          <li key={block.number} className="flow-root border-b border-rule py-2">
            <Picture drawn={drawings.find((d) => d.drill === block.drill)} />
            <p className="text-lg leading-tight">
              <b>{block.title}</b> {block.setting}
            </p>
            <p className="font-head text-xl font-bold">{block.amount || `${block.minutes} min`}</p>
            <p className="text-sm">
              {(block.sets ? [block.cues[0] ?? block.about] : [block.about, block.cues[0]])
                .filter(Boolean)
                .join(" ")}
            </p>
            {block.cautions.length > 0 && (
              <p className="mt-1 border-l-4 border-brick bg-sheet px-2 py-1 text-sm">
                {block.cautions.join(" ")}
              </p>
            )}
            {open && block.sets > 0 && block.unit && (
              <fieldset className="mt-2">
                <legend className="text-sm text-soft">
                  Each set, in {block.unit === "good" ? "1 for good, 0 for missed" : block.unit}
                </legend>
                <div className="flex flex-wrap gap-2">
                  {Array.from({ length: block.sets }, (_, n) => (
                    <input
                      // biome-ignore lint/suspicious/noArrayIndexKey: sets stand in their order
                      key={n}
                      name={`${block.number} ${n}`}
                      aria-label={`${block.title}, set ${n + 1}`}
                      inputMode="decimal"
                      pattern="[0-9]+([.,][0-9]+)?"
                      className="field w-16"
                    />
                  ))}
                </div>
              </fieldset>
            )}
            {block.number in day.sent && (
              <p className="text-sm text-soft">You sent {(day.sent[block.number] ?? []).join(", ")}.</p>
            )}
          </li>
        ))}
      </ol>
      {wrong !== null && <Problem error={wrong} />}
      {open && (
        <Button type="submit" kind="act" live className="mt-3 w-full">
          Done: send to my coach
        </Button>
      )}
    </form>
  );
}

/** The drill as it looks, beside its words. */
function Picture({ drawn }: { drawn: DrawnDrill | undefined }) {
  if (!drawn) return null;
  return (
    <div className="float-right ml-3 w-32">
      <DrillPicture drawn={drawn} size="h-24" moves />
    </div>
  );
}
