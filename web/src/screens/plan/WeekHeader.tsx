import { Link } from "react-router";
import type { PlanPage } from "../../api/client";
import { Button, buttonLook } from "../../parts/Button";
import { dayMonth, shifted } from "../../parts/words";

/** What a coach can open beside a week. */
export type Opened = "days" | "share" | "copy" | null;

interface Props {
  page: PlanPage;
  older: boolean;
  onOpen: (what: Opened) => void;
  onWeek: (week: string) => void;
  onPlanAgain: () => void;
}

/** Whose week it is, the weeks before and after, and what can be done with it. */
export function WeekHeader({ page, older, onOpen, onWeek, onPlanAgain }: Props) {
  const { trainee } = page;
  return (
    <div className="mb-1 flex flex-wrap items-end justify-between gap-x-6 gap-y-2">
      <div>
        <p className="flex gap-4 text-sm text-soft">
          <button type="button" className="underline" onClick={() => onWeek(shifted(page.week, -7))}>
            Week before
          </button>
          <button type="button" className="underline" onClick={() => onWeek(shifted(page.week, 7))}>
            Week after
          </button>
          <Link to="/weeks" className="underline">
            Everybody's weeks
          </Link>
        </p>
        <h1 className="text-[2.125rem] leading-tight">
          <span className="sr-only">{trainee.name}: </span>Week of {dayMonth(page.week)}
        </h1>
      </div>
      <div className="flex flex-wrap gap-2">
        {page.kept && (
          <Link to={`/trainees/${trainee.id}/print/${page.kept}`} className={buttonLook("plain")}>
            Print
          </Link>
        )}
        <Button least="coach" onClick={() => onOpen("share")}>
          Calendar and own page
        </Button>
        <Button onClick={() => onOpen("days")}>Days</Button>
        {page.kept && !older && <Button onClick={onPlanAgain}>Plan again</Button>}
        {page.kept && <Button onClick={() => onOpen("copy")}>Copy to others</Button>}
      </div>
    </div>
  );
}
