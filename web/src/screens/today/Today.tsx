import { memo } from "react";
import { Link, useSearchParams } from "react-router";
import type { Matter, TodayTrainee } from "../../api/client";
import { useGroups } from "../../api/hall";
import { useToday } from "../../api/hooks";
import { SmallBars } from "../../drawings/SmallBars";
import { Button, buttonLook } from "../../parts/Button";
import { For } from "../../parts/For";
import { Message, Problem, Waiting } from "../../parts/Message";
import { capital, count, longDay } from "../../parts/words";
import { TraineeForm } from "../trainee/TraineeForm";
import { FirstEvening } from "./FirstEvening";
import { FEW, Narrow, shownRows, viewOf } from "./Narrow";

/** Every trainee, the most pressing first. */
export function Today() {
  const today = useToday();
  const [search, setSearch] = useSearchParams();
  // in the address, so that the first evening leads here
  const adding = search.has("add");
  const groups = useGroups();
  const view = viewOf(search);
  if (today.isPending) return <Waiting />;
  if (!today.data) return <Problem error={today.error} />;
  const rows = shownRows(today.data, view, groups.data ?? []);
  return (
    <>
      <FirstEvening />
      <p className="text-soft">{longDay(new Date())}</p>
      <div className="mb-4 flex flex-wrap items-end justify-between gap-4">
        <h1 className="text-[2.125rem] leading-tight">{headline(today.data)}</h1>
        <div className="flex flex-wrap gap-3">
          <Link to="/weeks" className={buttonLook("plain")}>
            Weeks
          </Link>
          <Link to="/group" className={buttonLook("plain")}>
            The group
          </Link>
          <Link to="/test-days/new" className={buttonLook("plain")}>
            Test days
          </Link>
          <For least="coach">
            <Button onClick={() => setSearch({ add: "" }, { replace: true })}>Add a trainee</Button>
          </For>
        </div>
      </div>
      {today.error && <Problem error={today.error} />}
      {today.data.length > FEW || (groups.data?.length ?? 0) > 0 ? (
        <Narrow
          view={view}
          groups={groups.data ?? []}
          onView={(next) => setSearch(next, { replace: true })}
        />
      ) : null}
      {today.data.length ? (
        <ul>
          {rows.map((row) => (
            <Row key={row.id} row={row} many={today.data.length > MANY} />
          ))}
        </ul>
      ) : (
        <Message>
          Nobody trains here yet. Add a trainee, or bring in free tries you already have as a file under
          Files.
        </Message>
      )}
      {rows.length === 0 && today.data.length > 0 && <Message>Nobody fits that.</Message>}
      {adding && <TraineeForm onClose={() => setSearch({}, { replace: true })} />}
    </>
  );
}

function headline(rows: TodayTrainee[]) {
  const ready = rows.filter((row) => row.brief).length;
  const decide = rows.filter((row) => row.brief?.to_decide).length;
  const trainees = `${capital(count(rows.length))} ${rows.length === 1 ? "trainee" : "trainees"}`;
  if (ready < rows.length) return `${trainees}, ${ready ? count(ready) : "none"} looked at so far.`;
  return `${trainees}, ${decide === 1 ? "one thing" : `${count(decide)} things`} to decide.`;
}

const KINDS: Partial<Record<Matter["kind"], "act" | "danger" | "plain">> = {
  pain: "danger",
  cleared: "danger",
  unfinished: "act",
  test: "act",
  recheck: "plain",
  "one-pass": "plain",
};

function target(id: string, matter: Matter) {
  if (matter.run) return `/trainees/${id}/bench/${matter.run}`;
  if (matter.kind === "still" || matter.kind === "stay")
    return `/trainees/${id}/progress${matter.drill ? `?drill=${matter.drill}` : ""}`;
  if (matter.kind === "cleared") return `/trainees/${id}/intake`;
  if (matter.test)
    return `/trainees/${id}/bench/test/${matter.test}${matter.drill ? `?subject=${matter.drill}` : ""}`;
  return matter.drill ? `/trainees/${id}?drill=${matter.drill}` : `/trainees/${id}`;
}

/** From here on it is felt that rows out of sight are laid out too. */
const MANY = 100;

/** One trainee. Of a thousand only those in sight are laid out, and only those that changed are drawn again. */
const Row = memo(function Row({ row, many }: { row: TodayTrainee; many: boolean }) {
  const [first, ...others] = row.brief?.matters ?? [];
  return (
    <li
      className={`${many ? "today-row " : ""}grid min-h-[4.3125rem] grid-cols-[12.5rem_8.5rem_1fr_auto] items-center gap-x-5 border-b border-rule py-2.5 max-md:grid-cols-[1fr_auto] max-md:gap-y-1`}
    >
      <Link to={`/trainees/${row.id}`} className="truncate font-head text-lg font-bold hover:underline">
        {row.name}
      </Link>
      <span className="max-md:justify-self-end">{row.brief && <SmallBars bays={row.brief.bays} />}</span>
      <p className="text-[1.0625rem] max-md:col-span-2">
        {row.brief ? first?.sentence : <span className="text-soft">Not looked at yet today.</span>}
        {others.length > 0 && <span className="text-soft"> And {count(others.length)} more.</span>}
      </p>
      {first && (
        <Link
          to={target(row.id, first)}
          aria-label={`${first.action}: ${row.name}`}
          className={`${buttonLook(KINDS[first.kind] ?? "quiet")} justify-self-end max-md:col-span-2`}
        >
          {first.action}
        </Link>
      )}
    </li>
  );
});
