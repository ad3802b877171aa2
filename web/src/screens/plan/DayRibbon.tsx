import { Link } from "react-router";
import type { DayPlan, PlanPage } from "../../api/client";
import { SessionRibbon } from "../../drawings/SessionRibbon";
import { dayMonth, minutesOf, weekday } from "../../parts/words";
import { partsOf } from "./ribbon";

interface DayRibbonProps {
  day: DayPlan;
  page: PlanPage;
  wholeS: number;
  chosen: string | undefined;
  onChoose: (key: string) => void;
}

/** One day: its blocks as a ribbon, and what was done of it. */
export function DayRibbon({ day, page, wholeS, chosen, onChoose }: DayRibbonProps) {
  const done = page.sessions.filter((s) => s.day === day.day);
  const today = day.day === page.on;
  return (
    <section aria-label={`${weekday(day.day)} ${dayMonth(day.day)}`} className="mb-3">
      <h2 className="flex flex-wrap items-baseline gap-x-4 text-lg">
        {weekday(day.day)}
        <span className="font-sans text-sm font-normal text-soft">
          {[day.place, day.time, `${minutesOf(day.length_s)} of ${day.minutes} min`]
            .filter(Boolean)
            .join(", ")}
        </span>
        {today && (
          <Link to={`/floor?who=${page.trainee.id}`} className="font-sans text-sm font-bold underline">
            Run it on the floor
          </Link>
        )}
      </h2>
      {day.why_empty && <p className="text-soft">{day.why_empty}</p>}
      {day.blocks.length > 0 && (
        <SessionRibbon
          label={`Blocks of ${weekday(day.day)}`}
          parts={partsOf(day)}
          wholeS={wholeS}
          chosen={chosen}
          onChoose={onChoose}
        />
      )}
      {done.map((session) => (
        <details key={session.id} className="text-sm" open>
          <summary className="cursor-pointer">
            <b>As done</b> {session.source === "self" ? "(self-reported)" : ""}
            {session.ended_as === null && ", still under way"}
            {session.ended_as === "pain" && ", stopped for pain"}
          </summary>
          <ul className="columns-2 gap-8 max-sm:columns-1">
            {session.blocks
              .filter((b) => b.drill || b.status !== "done")
              .map((b) => (
                <li key={b.title} className="break-inside-avoid">
                  {b.title}: {b.done}
                  {b.drill && <span className="text-soft">; planned {b.planned}</span>}
                </li>
              ))}
          </ul>
        </details>
      ))}
    </section>
  );
}
