import { useQuery } from "@tanstack/react-query";
import { type CSSProperties, useEffect } from "react";
import { useParams } from "react-router";
import { ask, client, type DisplayPage, type DisplayPerson, Failure } from "../../api/client";
import { minuteOf, whereAt } from "../../live/classNight";
import { useAwake } from "../../live/useAwake";
import { useNow } from "../../live/useNow";
import { Message, Waiting } from "../../parts/Message";
import { readTheme, setTheme } from "../../parts/theme";
import { hour } from "../../parts/words";
import { hourAt, leftOf } from "./clockWords";

const ASK_MS = 3000;
/** After so long without an answer it says since when. */
const AWAY_MS = 10_000;

interface Kept {
  at: number;
  page: DisplayPage;
}

const keyOf = (token: string) => `perch.display.${token.slice(0, 12)}`;

/** A screen on the hall's wall: who is where, with what, for how long yet, and what comes next. It goes on when no server answers. */
export function HallDisplay() {
  const { token = "" } = useParams();
  useAwake(true);
  const asked = useQuery({
    queryKey: ["display", token],
    queryFn: async () => {
      const page = await ask(client.GET("/api/display/{token}", { params: { path: { token } } }));
      localStorage.setItem(keyOf(token), JSON.stringify({ at: Date.now(), page } satisfies Kept));
      return page;
    },
    refetchInterval: ASK_MS,
    refetchIntervalInBackground: true,
    retry: false,
  });
  const kept = JSON.parse(localStorage.getItem(keyOf(token)) ?? "null") as Kept | null;
  const moment = useNow(true, (at) => Math.floor(at / 1000));
  useEffect(() => {
    document.title = "Class · Wise Perch";
  }, []);
  const gone = asked.error instanceof Failure && asked.error.status === 404;
  const page = asked.data ?? kept?.page;
  if (gone) return <Message danger>{asked.error?.message}</Message>;
  if (!page)
    return asked.isPending ? <Waiting /> : <Message>No server answers yet. This page asks again.</Message>;
  const away = kept && moment - kept.at > AWAY_MS ? kept.at : null;
  const minute = minuteOf(page, moment);
  const columns = page.people.length > 14 ? 3 : page.people.length > 6 ? 2 : 1;
  const rows = Math.ceil(page.people.length / columns);
  return (
    <main className="flex min-h-screen flex-col bg-paper px-[2vw] py-[1.5vh]">
      <header className="flex flex-wrap items-baseline gap-x-6">
        <h1 className="text-[clamp(1.5rem,3vw,3.5rem)] leading-tight">{page.room}</h1>
        {away && (
          <p role="status" className="text-[clamp(1rem,1.6vw,2rem)] text-soft">
            as of {hour(new Date(away).toISOString())}: the server is away
          </p>
        )}
        <p className="ml-auto font-head text-[clamp(2rem,5vw,6rem)] font-bold leading-none tabular-nums">
          {minute === null ? page.time : page.closed ? "over" : hourAt(page.time, minute)}
          {page.held_since && !page.closed && <span className="ml-4 text-[0.5em]">held</span>}
        </p>
        <button
          type="button"
          className="min-h-11 text-soft underline"
          onClick={() => setTheme(readTheme() === "day" ? "hall" : "day")}
        >
          Daylight or dark
        </button>
      </header>
      <ul
        aria-label="Who is where"
        className={`mt-2 grid flex-1 auto-rows-fr gap-x-[3vw] ${columns === 3 ? "md:grid-cols-3" : columns === 2 ? "md:grid-cols-2" : ""}`}
        style={{ "--line": `min(${7 / columns + 0.4}vw, ${27 / rows}vh)` } as CSSProperties}
      >
        {page.people.map((person) => (
          <OnDisplay
            key={person.name}
            person={person}
            minute={page.closed ? null : (minute ?? 0)}
            time={page.time}
          />
        ))}
      </ul>
    </main>
  );
}

interface PersonProps {
  person: DisplayPerson;
  minute: number | null;
  time: string;
}

function OnDisplay({ person, minute, time }: PersonProps) {
  const { now, next } = minute === null ? { now: undefined, next: undefined } : whereAt(person.slots, minute);
  return (
    <li className="grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-4 border-b-2 border-rule py-1">
      <div className="min-w-0">
        <p className="truncate font-head text-[max(1.25rem,var(--line))] font-bold leading-tight">
          {person.name}{" "}
          <span className="text-blue">{now ? now.place || "anywhere" : next ? "wait" : "through"}</span>
        </p>
        <div className="text-[max(1rem,calc(var(--line)*0.6))] leading-tight">
          {now && <p className="truncate">{[now.title, now.dose].filter(Boolean).join(" · ")}</p>}
          {next && (
            <p className="truncate text-soft">
              → {hourAt(time, next.start_min)} {next.place || next.title}
            </p>
          )}
        </div>
      </div>
      <p className="font-head text-[max(1.5rem,calc(var(--line)*1.15))] font-bold tabular-nums">
        {now && minute !== null ? leftOf(now.end_min - minute) : ""}
      </p>
    </li>
  );
}
