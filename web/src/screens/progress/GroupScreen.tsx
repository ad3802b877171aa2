import { useState } from "react";
import { Link } from "react-router";
import type { GroupRow } from "../../api/client";
import { useGroup } from "../../api/progress";
import { buttonLook } from "../../parts/Button";
import { Message, Problem, Waiting } from "../../parts/Message";
import { capital, count, dayMonth } from "../../parts/words";

type Kind = NonNullable<GroupRow["course"]>["kind"];
const KINDS: Record<Kind, string> = {
  still: "stand still",
  away: "not seen",
  back: "back again",
  unmoved: "nothing new",
  new: "not begun",
  moves: "move",
};
const MARK: Record<Kind, string> = {
  still: "stands still",
  away: "not seen",
  back: "back",
  unmoved: "nothing new",
  new: "not begun",
  moves: "moves",
};

/** The whole group: who moves, who stands still, who has not been seen, what fell; what wants a word first. */
export function GroupScreen() {
  const group = useGroup();
  const [only, pick] = useState<Kind | null>(null);
  if (group.isPending) return <Waiting />;
  if (!group.data) return <Problem error={group.error} />;
  const { rows, counts, fell } = group.data;
  const shown = only ? rows.filter((r) => r.course?.kind === only) : rows;
  return (
    <>
      <div className="mb-3 flex flex-wrap items-end justify-between gap-4">
        <h1 className="text-[2.125rem] leading-tight">
          {capital(count(counts.moves ?? 0))} of {count(rows.length)} move, {count(fell)}{" "}
          {fell === 1 ? "gate" : "gates"} fell this month.
        </h1>
        <Link to="/reports" className={buttonLook("plain")}>
          Reports of a month
        </Link>
      </div>
      <p className="mb-3 flex flex-wrap gap-2">
        {(Object.keys(KINDS) as Kind[])
          .filter((kind) => (counts[kind] ?? 0) > 0)
          .map((kind) => (
            <button
              key={kind}
              type="button"
              aria-pressed={only === kind}
              onClick={() => pick(only === kind ? null : kind)}
              className={`min-h-11 rounded-md border px-3 ${only === kind ? "border-blue bg-tint font-bold" : "border-rule"}`}
            >
              {counts[kind]} {counts[kind] === 1 ? MARK[kind] : KINDS[kind]}
            </button>
          ))}
      </p>
      {group.error && <Problem error={group.error} />}
      {rows.length === 0 && <Message>Nobody trains here yet. Add a trainee on Today.</Message>}
      <ul>
        {shown.map((row) => (
          <Row key={row.id} row={row} many={rows.length > MANY} />
        ))}
      </ul>
    </>
  );
}

/** From here on it is felt that rows out of sight are laid out too. */
const MANY = 100;

function Row({ row, many }: { row: GroupRow; many: boolean }) {
  const { course } = row;
  return (
    <li
      className={`${many ? "today-row " : ""}grid grid-cols-[12.5rem_7rem_1fr_15rem] items-baseline gap-x-5 border-b border-rule py-2.5 max-md:grid-cols-[1fr_auto] max-md:gap-y-1`}
    >
      <Link
        to={`/trainees/${row.id}/progress`}
        className="truncate font-head text-lg font-bold hover:underline"
      >
        {row.name}
      </Link>
      <span
        className={
          course?.kind === "moves" ? "text-blue" : course?.kind === "still" ? "font-bold" : "text-soft"
        }
      >
        {course ? MARK[course.kind] : ""}
      </span>
      <div className="max-md:col-span-2">
        <p>{course ? course.sentence : <span className="text-soft">Not looked at yet today.</span>}</p>
        {row.turns.map((turn) => (
          <p key={turn.turn} className="mt-0.5 border-l-4 border-ink pl-2 text-sm">
            {turn.sentence}
          </p>
        ))}
      </div>
      <p className="text-sm text-soft max-md:col-span-2">
        {course?.fell.slice(0, 3).map((f) => (
          <span key={f.title} className="block">
            {f.title}, {dayMonth(f.day)}
          </span>
        ))}
        {(course?.fell.length ?? 0) > 3 && (
          <span className="block">and {(course?.fell.length ?? 0) - 3} more this month</span>
        )}
      </p>
    </li>
  );
}
