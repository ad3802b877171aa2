import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import type { DrillPage, DrillStanding } from "../../api/client";
import { useDrill } from "../../api/hooks";
import { Rung } from "../../drawings/Rung";
import { onDelivered, post, waitingLetters } from "../../live/outbox";
import { useOutboxVersion } from "../../live/useLiveRun";
import { Message, Problem, Waiting } from "../../parts/Message";
import { Sheet } from "../../parts/Sheet";
import { capital, day, ORIGIN, STATE } from "../../parts/words";
import { SetForm } from "./SetForm";

interface Props {
  trainee: string;
  drill: string;
  onClose: () => void;
  onPick: (drill: string) => void;
}

/** One bar, opened: its gate and where the figure comes from, what it waits for, its evidence, and a place to record a set. */
export function DrillSheet({ trainee, drill, onClose, onPick }: Props) {
  const page = useDrill(trainee, drill);
  const queries = useQueryClient();
  useOutboxVersion();
  useEffect(
    () =>
      onDelivered(() => {
        for (const key of ["drill", "trainee", "today", "bench"])
          void queries.invalidateQueries({ queryKey: [key] });
      }),
    [queries],
  );
  const waiting = waitingLetters().filter((letter) =>
    letter.path.startsWith(`/api/trainees/${trainee}/drills/${drill}/`),
  );
  const d = page.data?.standing;
  return (
    <Sheet open side onClose={onClose} title={d?.title ?? "Drill"} about={page.data?.drill.about}>
      {page.isPending && <Waiting />}
      {page.error && <Problem error={page.error} />}
      {page.data && d && (
        <>
          <Rung state={d.state} fill={d.fill} open={d.open} />
          <p className="mt-2 font-head text-xl font-bold">
            {capital(STATE[d.state])}: {d.shortfall}.
          </p>
          <Facts d={d} />
          {(page.data.drill.cautions?.length ?? 0) > 0 && (
            <Message danger>{page.data.drill.cautions?.join(" ")}</Message>
          )}
          <Opens page={page.data} onPick={onPick} />
          {waiting.length > 0 && (
            <p role="status" className="my-3 bg-tint px-3 py-2 text-sm">
              {waiting.length} kept in this browser, on the way to the server.
            </p>
          )}
          <SetForm trainee={trainee} page={page.data} />
          <Sets page={page.data} />
        </>
      )}
    </Sheet>
  );
}

function Facts({ d }: { d: DrillStanding }) {
  const rows: [string, string][] = [["Gate", `${d.gate}, clean (${ORIGIN[d.origin]})`]];
  if (d.last_pass) rows.push(["Last passed", day(d.last_pass)]);
  if (d.prove_by) rows.push(["A second clean day", `by ${day(d.prove_by)} makes it proven`]);
  if (d.stale_on && d.state !== "stale") rows.push(["Goes stale", day(d.stale_on)]);
  return (
    <dl className="my-3 grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
      {rows.map(([term, words]) => (
        <div key={term} className="contents">
          <dt className="text-soft">{term}</dt>
          <dd>{words}</dd>
        </div>
      ))}
    </dl>
  );
}

function Opens({ page, onPick }: { page: DrillPage; onPick: (drill: string) => void }) {
  const { waits, opens, open } = page.standing;
  return (
    <>
      {!open && (
        <div className="my-3">
          <p className="font-bold">Closed. It waits for:</p>
          <ul className="list-disc pl-5">
            {waits.map((w) => (
              <li key={w.sentence}>
                <button
                  type="button"
                  className="text-left underline"
                  onClick={() => onPick(w.any_of[0] ?? "")}
                >
                  {w.sentence}
                </button>
              </li>
            ))}
          </ul>
        </div>
      )}
      {opens.length > 0 && (
        <p className="my-3 text-soft">
          It opens {opens.length === 1 ? "one drill" : `${opens.length} drills`} above it.
        </p>
      )}
    </>
  );
}

function Sets({ page }: { page: DrillPage }) {
  if (!page.sets.length) return <p className="mt-4 text-soft">No set recorded yet.</p>;
  return (
    <section className="mt-5" aria-label="Evidence">
      <h3 className="text-lg">Evidence</h3>
      <ul>
        {page.sets.map((s) => {
          const struck = s.struck_at !== null;
          const figure = s.n ? `${s.value} of ${s.n}` : `${s.value}${s.measure === "hold" ? " s" : ""}`;
          const setting = Object.values(s.dial)
            .map((cm) => `at ${cm} cm`)
            .join(", ");
          const words = [figure, s.form, s.side, setting, s.confidence && `confidence ${s.confidence}`]
            .filter(Boolean)
            .join(" · ");
          return (
            <li key={s.id} className="flex items-center justify-between gap-3 border-b border-rule py-1">
              <span className={struck ? "text-faint line-through" : ""}>
                <span className="inline-block w-16 text-soft">{day(s.at)}</span> {words}
              </span>
              <button
                type="button"
                className="min-h-9 shrink-0 text-sm text-soft underline"
                aria-label={`${struck ? "Bring back" : "Strike out"} ${words} of ${day(s.at)}`}
                onClick={() =>
                  post({
                    path: `/api/evidence/${s.id}/${struck ? "restore" : "strike"}`,
                    body: undefined,
                    words: struck ? "bringing back a set" : "striking out a set",
                  })
                }
              >
                {struck ? "Bring back" : "Strike out"}
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
