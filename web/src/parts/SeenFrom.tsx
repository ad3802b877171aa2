import { useState } from "react";
import { post } from "../live/outbox";
import { isoDay } from "./words";

interface Props {
  trainee: string;
  drill: string;
  title: string;
  /** From where it is looked at, with its words and when it was last, where that is known. */
  views: readonly { view: string; title: string; today?: boolean; last?: string }[];
}

const KEY = "perch.seen";
interface Kept {
  day: string;
  ticks: Record<string, boolean>;
}

/** What was ticked in this browser today; the server may not know it yet. */
function readTicks(): Record<string, boolean> {
  const kept = JSON.parse(localStorage.getItem(KEY) ?? "null") as Kept | null;
  return kept?.day === isoDay(new Date()) ? kept.ticks : {};
}

/** From where a line was judged by eye today: two ticks, since one view hides what the other shows. */
export function SeenFrom({ trainee, drill, title, views }: Props) {
  const [ticks, setTicks] = useState(readTicks);
  if (views.length === 0) return null;
  const tell = (view: string, seen: boolean) => {
    const next = { ...readTicks(), [`${trainee} ${drill} ${view}`]: seen };
    localStorage.setItem(KEY, JSON.stringify({ day: isoDay(new Date()), ticks: next }));
    setTicks(next);
    post({
      path: `/api/trainees/${trainee}/drills/${drill}/seen`,
      body: { at: new Date().toISOString(), day: isoDay(new Date()), view, seen },
      words: `${title}: seen from the ${view}`,
    });
  };
  return (
    <fieldset className="flex flex-wrap gap-x-5">
      <legend className="sr-only">Seen from</legend>
      {views.map((v) => (
        <label key={v.view} className="flex min-h-11 items-center gap-2 text-sm">
          <input
            type="checkbox"
            className="size-5 accent-blue"
            checked={ticks[`${trainee} ${drill} ${v.view}`] ?? v.today ?? false}
            onChange={(event) => tell(v.view, event.target.checked)}
          />
          {v.title}
          {v.last && v.last !== "today" && <span className="text-soft">last {v.last}</span>}
        </label>
      ))}
    </fieldset>
  );
}
