import { Link, useSearchParams } from "react-router";
import { usePlanWeek } from "../../api/hooks";
import { goesOn } from "../../live/useJob";
import { Button } from "../../parts/Button";
import { JobProgress } from "../../parts/JobProgress";
import { Message, Problem, Waiting } from "../../parts/Message";
import { dayMonth, isoDay, shifted, weekday } from "../../parts/words";
import { usePlanMany } from "./many";

const monday = (date: Date) => shifted(isoDay(date), -((date.getDay() + 6) % 7));

/** Everybody's week in a glance, and planning for all who have none. */
export function Weeks() {
  const [search, setSearch] = useSearchParams();
  const week = search.get("week") ?? monday(new Date());
  const page = usePlanWeek(week);
  const many = usePlanMany(true);
  if (page.isPending) return <Waiting />;
  if (!page.data) return <Problem error={page.error} />;
  const open = page.data.filter((x) => !x.kept).map((x) => x.trainee);
  return (
    <>
      <p className="flex gap-4 text-sm text-soft">
        <button type="button" className="underline" onClick={() => setSearch({ week: shifted(week, -7) })}>
          Week before
        </button>
        <button type="button" className="underline" onClick={() => setSearch({ week: shifted(week, 7) })}>
          Week after
        </button>
      </p>
      <div className="mb-3 flex flex-wrap items-end justify-between gap-4">
        <h1 className="text-[2.125rem] leading-tight">Everybody's week of {dayMonth(week)}</h1>
        <Button
          least="coach"
          kind="act"
          live
          disabled={!open.length || goesOn(many.job)}
          onClick={() => void many.run(open, week, null)}
        >
          {open.length ? `Plan the ${open.length} without a plan` : "Everybody is planned"}
        </Button>
      </div>
      {many.error !== undefined && <Problem error={many.error} />}
      <JobProgress job={many.job} doing="Planning" done="planned" onStop={many.stop} />
      {page.data.length === 0 && <Message>Nobody trains here yet. Add a trainee on Today.</Message>}
      <ul>
        {page.data.map(({ trainee, kept, days }) => (
          <li
            key={trainee.id}
            className="grid grid-cols-[14rem_1fr_auto] items-center gap-4 border-b border-rule py-1.5 max-sm:grid-cols-1 max-sm:gap-0"
          >
            <Link
              to={`/trainees/${trainee.id}/plan?week=${week}`}
              className="inline-flex min-h-11 items-center truncate font-head text-lg font-bold hover:underline"
            >
              {trainee.name}
            </Link>
            <span>{days.map((d) => weekday(d)).join(" · ")}</span>
            <span className="text-soft">{kept ? "planned" : "not planned yet"}</span>
          </li>
        ))}
      </ul>
    </>
  );
}
