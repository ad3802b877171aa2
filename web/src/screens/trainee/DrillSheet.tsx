import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link } from "react-router";
import type { DrillPage } from "../../api/client";
import { useDrawings } from "../../api/drawings";
import { useDrill } from "../../api/hooks";
import { DrillPicture } from "../../drawings/DrillPicture";
import { FaultPictures } from "../../drawings/FaultPictures";
import { History } from "../../drawings/History";
import { Rung } from "../../drawings/Rung";
import { onDelivered, post, waitingLetters } from "../../live/outbox";
import { useOutboxVersion } from "../../live/useFollowed";
import { For } from "../../parts/For";
import { Message, Problem, Waiting } from "../../parts/Message";
import { SeenFrom } from "../../parts/SeenFrom";
import { Sheet } from "../../parts/Sheet";
import { capital, day, ORIGIN, STATE } from "../../parts/words";
import { SetForm } from "./SetForm";
import { Waive } from "./Waive";

interface Props {
  trainee: string;
  drill: string;
  onClose: () => void;
  onPick: (drill: string) => void;
}

/** One bar, opened: its gate and where the figure comes from, what it waits for, its evidence, and a place to record a set. */
export function DrillSheet({ trainee, drill, onClose, onPick }: Props) {
  const page = useDrill(trainee, drill);
  const drawn = useDrawings(trainee, [drill], true).data?.[0];
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
    <Sheet open side onClose={onClose} title={d?.title ?? "Drill"} about={page.data?.words.about}>
      {page.isPending && <Waiting />}
      {page.error && <Problem error={page.error} />}
      {page.data && d && (
        <>
          <Rung state={d.state} fill={d.fill} open={d.open} />
          <p className="mt-2 font-head text-xl font-bold">
            {capital(STATE[d.state])}: {d.shortfall}.
          </p>
          {page.data.why_not && (
            <p className="mt-2 border-l-4 border-ink bg-sheet px-3 py-2">{page.data.why_not}</p>
          )}
          {drawn && <DrillPicture key={drill} drawn={drawn} moves />}
          <Facts page={page.data} />
          <OwnSize trainee={trainee} page={page.data} />
          {(page.data.drill.cautions?.length ?? 0) > 0 && (
            <Message danger>{page.data.drill.cautions?.join(" ")}</Message>
          )}
          <Cues page={page.data} onPick={onPick} />
          {drawn && <FaultPictures faults={drawn.faults} />}
          <SeenFrom trainee={trainee} drill={drill} title={d.title} views={page.data.views} />
          <Opens page={page.data} onPick={onPick} />
          <For least="coach">
            <Waive trainee={trainee} page={page.data} />
          </For>
          {waiting.length > 0 && (
            <p role="status" className="my-3 bg-tint px-3 py-2 text-sm">
              {waiting.length} kept in this browser, on the way to the server.
            </p>
          )}
          <For least="coach">
            <SetForm trainee={trainee} page={page.data} />
          </For>
          <Sets page={page.data} />
        </>
      )}
    </Sheet>
  );
}

function Facts({ page }: { page: DrillPage }) {
  const { standing: d, words, setting } = page;
  const rows: [string, string][] = [["Gate", `${d.gate}, clean (${ORIGIN[d.origin]})`]];
  if (d.stages.length)
    rows.push([
      "On the way",
      d.stages.map((stage) => `${stage.text}${stage.reached ? " (there)" : ""}`).join(", then "),
    ]);
  if (page.best_known) rows.push(["Best known", page.best_known]);
  if (setting)
    rows.push([
      "Setting",
      [capital(setting.words), ...setting.because.map((b) => b.text)].join(". ").replaceAll("..", "."),
    ]);
  for (const dose of words.doses) rows.push(["Dose", `${dose.words} (${dose.origin})`]);
  if (page.kit.length) rows.push(["Kit", page.kit.join(", ")]);
  if (page.ahead_said) rows.push(["Ahead", page.ahead_said]);
  if (d.confidence !== null) rows.push(["Confidence", `${d.confidence} of 5 when last done`]);
  if (d.last_pass) rows.push(["Last passed", day(d.last_pass)]);
  if (d.prove_by) rows.push(["A second clean day", `by ${day(d.prove_by)} and it is proven`]);
  if (d.stale_on && d.state !== "stale") rows.push(["Goes stale", day(d.stale_on)]);
  if (d.easy) rows.push(["Easy now", "no longer worth its time, but for warming up"]);
  return (
    <dl className="my-3 grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
      {rows.map(([term, words], place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a drill may have two doses under one name
        <div key={place} className="contents">
          <dt className="text-soft">{term}</dt>
          <dd>{words}</dd>
        </div>
      ))}
    </dl>
  );
}

/** What the trainee's own size makes of the drill, and the way to its lever. */
function OwnSize({ trainee, page }: { trainee: string; page: DrillPage }) {
  if (!page.lever) return null;
  return (
    <p className="my-2 border-l-4 border-wood pl-3">
      {page.setting && (
        <b>Set to {[page.setting.words, page.setting.in_body].filter(Boolean).join(", ")}. </b>
      )}
      {page.for_you.join(" ")}{" "}
      <Link to={`/trainees/${trainee}/levers?drill=${page.drill.drill}`} className="underline">
        Levers
      </Link>
    </p>
  );
}

function Cues({ page, onPick }: { page: DrillPage; onPick: (drill: string) => void }) {
  const cues = page.drill.cues ?? [];
  return (
    <section className="my-3">
      {cues.length > 0 && (
        <p>
          <span className="text-soft">Say: </span>
          {cues.join(" ")}
        </p>
      )}
      {page.faults.length > 0 && (
        <details className="mt-2">
          <summary className="cursor-pointer text-soft">
            {page.faults.length === 1 ? "A fault to look for" : `${page.faults.length} faults to look for`}
          </summary>
          <ul className="mt-1 list-disc pl-5">
            {page.faults.map((fault) => (
              <li key={fault.title}>
                {fault.title}: “{fault.cue}”{" "}
                {fault.drills.map((d) => (
                  <button
                    key={d.drill}
                    type="button"
                    className="mr-2 underline"
                    onClick={() => onPick(d.drill)}
                  >
                    {d.title}
                  </button>
                ))}
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}

function Opens({ page, onPick }: { page: DrillPage; onPick: (drill: string) => void }) {
  const { waits } = page.standing;
  const asked = waits.filter((w) => w.any_of.length > 0);
  return (
    <>
      {asked.length > 0 && (
        <div className="my-3">
          <p className="font-bold">Closed. It waits for:</p>
          <ul className="list-disc pl-5">
            {asked.map((w) => (
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
      {page.opens.length > 0 && (
        <p className="my-3 text-soft">
          It opens{" "}
          {page.opens.map((d, place) => (
            <span key={d.drill}>
              {place > 0 && ", "}
              <button type="button" className="underline" onClick={() => onPick(d.drill)}>
                {d.title.toLowerCase()}
              </button>
            </span>
          ))}
          .
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
      <History points={page.history} />
      <ul>
        {page.sets.map((s) => {
          const struck = s.struck_at !== null;
          const load = page.hand_loads[s.id];
          const words = page.set_words[s.id] ?? "";
          return (
            <li key={s.id} className="flex items-center justify-between gap-3 border-b border-rule py-1">
              <span className={struck ? "text-faint line-through" : ""}>
                <span className="inline-block w-16 text-soft">{day(s.at)}</span> {words}
                {load && (
                  <span className="block pl-16 text-sm text-soft" title={load.because}>
                    hand-load {Math.round(load.seconds)} body-weight s
                  </span>
                )}
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
