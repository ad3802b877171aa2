import { Link, useParams } from "react-router";
import type { Block, DayPlan, DrawnDrill } from "../../api/client";
import { useDrawings } from "../../api/drawings";
import { usePlanVersion } from "../../api/hooks";
import { DrillPicture } from "../../drawings/DrillPicture";
import { Button, buttonLook } from "../../parts/Button";
import { Problem, Waiting } from "../../parts/Message";
import { dayMonth, minutesOf, weekdayLong } from "../../parts/words";
import { Outlines } from "../line/Outlines";

/** The week on paper: a page a session, legible at arm's length, boxes to tick. */
export function PrintSheet() {
  const { id = "", plan = "" } = useParams();
  const page = usePlanVersion(plan);
  const blocks = page.data?.planned?.days.flatMap((d) => d.blocks) ?? [];
  const drills = [...new Set(blocks.filter((b) => b.kind === "work").map((b) => b.drill))];
  const drawings = useDrawings(page.data?.trainee.id ?? "", drills);
  if (page.isPending) return <Waiting />;
  if (!page.data) return <Problem error={page.error} />;
  const { trainee, planned, week } = page.data;
  const days = planned?.days.filter((d) => d.blocks.length > 0) ?? [];
  return (
    <>
      <div className="mb-6 flex flex-wrap gap-3 print:hidden">
        <Button kind="act" live onClick={() => window.print()}>
          Print, or save as PDF
        </Button>
        <Link to={`/trainees/${id}/plan?week=${week}`} className={buttonLook("plain", true)}>
          Back to the week
        </Link>
      </div>
      <div className="print:text-black">
        {days.map((day, n) => (
          <PrintedDay
            key={day.day}
            day={day}
            name={trainee.name}
            painRule={page.data.pain_rule}
            last={n === days.length - 1}
            drawings={drawings.data ?? []}
          />
        ))}
        <Outlines trainee={id} drills={drills} most={4} heading="Your lines" />
      </div>
    </>
  );
}

interface DayProps {
  day: DayPlan;
  name: string;
  painRule: string;
  last: boolean;
  drawings: DrawnDrill[];
}

function PrintedDay({ day, name, painRule, last, drawings }: DayProps) {
  return (
    <article
      aria-label={`${weekdayLong(day.day)} ${dayMonth(day.day)}`}
      className={`mb-12 max-w-[46rem] print:mb-0 print:max-w-none print:text-[1.1875rem] ${last ? "" : "print:break-after-page"}`}
    >
      <header className="mb-2 flex items-baseline justify-between border-b-4 border-wood pb-1">
        <h1 className="text-[1.75rem] leading-tight">
          {name}, {weekdayLong(day.day)} {dayMonth(day.day)}
        </h1>
        <p>{[day.place, day.time, `${minutesOf(day.length_s)} min`].filter(Boolean).join(", ")}</p>
      </header>
      <p className="mb-2 text-sm print:text-base">
        How does the day feel, 1 to 5? ____ Confidence, 1 to 5? ____ Pain, which joint, 0 to 10? ____________{" "}
        {painRule}
      </p>
      <ol>
        {day.blocks.map((block) => (
          <PrintedBlock
            key={block.key}
            block={block}
            dense={day.blocks.length > AIRY}
            drawn={block.kind === "work" ? drawings.find((d) => d.drill === block.drill) : undefined}
          />
        ))}
      </ol>
      <p className="mt-2 text-xs">
        A coach's arithmetic, not medical advice. The venue's rules come first. Clear space all round and to
        the side of the exit.
      </p>
    </article>
  );
}

/** With more blocks than this a session is set smaller, so that it keeps to its page. */
const AIRY = 10;

interface BlockProps {
  block: Block;
  dense: boolean;
  drawn: DrawnDrill | undefined;
}

function PrintedBlock({ block, dense, drawn }: BlockProps) {
  const { dose } = block;
  const stack = dose?.dial?.steps[dose.dial.at]?.stack;
  const prepares = block.kind === "prepare";
  return (
    <li
      className={`grid break-inside-avoid grid-cols-[2.5rem_1fr_auto] gap-x-3 border-b border-rule ${prepares || dense ? "py-0.5" : "py-1.5"}`}
    >
      <span className="text-soft print:text-black">{Math.round(block.start_s / 60)}′</span>
      <div className={drawn ? "grid grid-cols-[6rem_1fr] items-center gap-x-3" : ""}>
        {drawn && (
          <div className="row-span-2">
            <DrillPicture drawn={drawn} size={dense ? "h-12" : "h-16"} />
          </div>
        )}
        <p
          className={
            prepares ? "" : `text-lg leading-tight ${dense ? "print:text-xl" : "print:text-[1.375rem]"}`
          }
        >
          <b>{block.title}</b>
          {dose && !prepares && <span> {dose.place}</span>}
          {stack && <span className="text-sm"> ({stack})</span>}
        </p>
        <p className={`text-sm leading-snug ${dense ? "print:text-[0.9375rem]" : "print:text-base"}`}>
          {(prepares ? [block.about, dose && `${dose.amount}.`] : [block.cues[0], ...block.cautions])
            .filter(Boolean)
            .join(" ")}
        </p>
      </div>
      <div className="text-right">
        <p className={prepares ? "" : "font-head text-xl font-bold leading-tight print:text-2xl"}>
          {dose && !prepares ? dose.amount : `${minutesOf(block.length_s)} min`}
        </p>
        {!prepares && dose && (
          <p className="flex max-w-52 flex-wrap justify-end gap-1 pt-0.5" aria-hidden="true">
            {Array.from({ length: dose.sets }, (_, n) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: the boxes are alike and only counted
              <span key={n} className="inline-block h-4 w-6 border border-ink" />
            ))}
          </p>
        )}
      </div>
    </li>
  );
}
