import type { PlanPage } from "../../api/client";
import { day as dayOf, minutesOf } from "../../parts/words";

/** The week in one line: days, minutes, hand-load, and what gets the largest share. */
export function Summary({ page }: { page: PlanPage }) {
  const { planned } = page;
  if (!planned) return null;
  const minutes = planned.days.map((d) => `${minutesOf(d.length_s)} of ${d.minutes}`).join(", ");
  return (
    <>
      {planned.work_on && (
        <p>
          Work on now: <b>{planned.work_on.title}</b>, {planned.work_on.sentence}
        </p>
      )}
      <p className="text-soft">
        {[
          `${planned.days.length} ${planned.days.length === 1 ? "day" : "days"}${minutes ? `: ${minutes} min` : ""}`,
          planned.load_words.replace(/\.$/, ""),
          planned.shares
            .slice(0, 3)
            .map(
              (s) =>
                `${s.title.toLowerCase()} ${minutesOf(s.seconds)} min${s.holding ? ", it limits the goal" : ""}`,
            )
            .join("; "),
          page.kept ? `kept ${page.kept_at ? dayOf(page.kept_at) : ""}` : "not kept yet",
        ]
          .filter(Boolean)
          .join(" · ")}
      </p>
    </>
  );
}
