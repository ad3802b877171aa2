import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type PlanPage } from "../../api/client";
import { usePlan, usePlanLook, usePlanVersion, type WishSent } from "../../api/hooks";
import { Button, buttonLook } from "../../parts/Button";
import { Message, Problem, Waiting } from "../../parts/Message";
import { dayMonth, shifted } from "../../parts/words";
import { BlockPanel } from "./BlockPanel";
import { CopyForm } from "./CopyForm";
import { DayRibbon } from "./DayRibbon";
import { DaysForm } from "./DaysForm";
import { type Edit, pinned, wishOf } from "./edits";
import { KeepBar } from "./KeepBar";
import { LeftOutList } from "./LeftOutList";
import { Questions } from "./Questions";
import { ShareForm } from "./ShareForm";
import { Summary } from "./Summary";

type Opened = "days" | "share" | "copy" | null;

/** A trainee's week: ribbons to scale, each block with its reasons, and the rest planned around what the coach set by hand. */
export function Plan() {
  const { id = "" } = useParams();
  const [search, setSearch] = useSearchParams();
  const week = search.get("week");
  const version = search.get("version");
  const kept = usePlan(id, week);
  const older = usePlanVersion(version ?? "");
  const [edits, setEdits] = useState<Edit[]>([]);
  const edit = edits.at(-1);
  const look = usePlanLook(id, edit?.wish ?? null);
  const base = version ? older : kept;
  if (base.isPending) return <Waiting />;
  if (!base.data) return <Problem error={base.error} />;
  const looked = edit && look.data?.week === base.data.week ? look.data : null;
  const go = (to: string) => {
    setEdits([]);
    setSearch(to ? { week: to } : {});
  };
  return (
    <Week
      key={`${id} ${base.data.week}`}
      page={looked ?? base.data}
      base={base.data}
      edits={edits}
      planning={edit !== undefined && (look.isPending || look.isPlaceholderData)}
      wrong={edit ? look.error : null}
      older={version !== null}
      onEdit={(wish, words) => setEdits([...edits, { wish, words }])}
      onUndo={() => setEdits(edits.slice(0, -1))}
      onKept={() => {
        setEdits([]);
        setSearch({ week: base.data?.week ?? "" });
      }}
      onWeek={go}
      onVersion={(v) => {
        setEdits([]);
        setSearch({ week: base.data?.week ?? "", ...(v ? { version: v } : {}) });
      }}
    />
  );
}

interface Props {
  page: PlanPage;
  base: PlanPage;
  edits: Edit[];
  planning: boolean;
  wrong: unknown;
  older: boolean;
  onEdit: (wish: WishSent, words: string) => void;
  onUndo: () => void;
  onKept: () => void;
  onWeek: (week: string) => void;
  onVersion: (version: string | null) => void;
}

function Week({
  page,
  base,
  edits,
  planning,
  wrong,
  older,
  onEdit,
  onUndo,
  onKept,
  onWeek,
  onVersion,
}: Props) {
  const queries = useQueryClient();
  const [opened, open] = useState<Opened>(null);
  const [chosen, choose] = useState<string>();
  const [refused, setRefused] = useState<unknown>(null);
  const here = useRef(true);
  useEffect(() => {
    here.current = true;
    return () => {
      here.current = false;
    };
  }, []);
  const { planned, trainee } = page;
  const wish = edits.at(-1)?.wish ?? wishOf(base);
  const days = planned?.days ?? base.planned?.days ?? [];
  const all = days.flatMap((d) => d.blocks.map((block) => ({ day: d, block })));
  const shown =
    all.find((x) => x.block.key === chosen) ??
    all.find((x) => x.block.kind !== "prepare" && x.day.day >= page.on);
  const wholeS = Math.max(600, ...days.map((d) => d.length_s), ...days.map((d) => d.minutes * 60));
  const toKeep = page.kept === null && planned !== null && !older;
  const keep = () => {
    setRefused(null);
    const body = {
      ...wish,
      id: uuidv7(),
      at: new Date().toISOString(),
      note: "",
      fingerprint: page.fingerprint,
    };
    ask(client.POST("/api/trainees/{id}/plans", { params: { path: { id: trainee.id } }, body })).then(() => {
      void queries.invalidateQueries({ queryKey: ["plan"] });
      void queries.invalidateQueries({ queryKey: ["plan-week"] });
      void queries.invalidateQueries({ queryKey: ["floor"] });
      // whoever has gone on to another screen meanwhile is not fetched back
      if (here.current) onKept();
    }, setRefused);
  };
  return (
    <>
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
          <Button onClick={() => open("share")}>Calendar and own page</Button>
          <Button onClick={() => open("days")}>Days</Button>
          {page.kept && !older && (
            <Button onClick={() => onEdit(wish, "what is left of the week planned again")}>Plan again</Button>
          )}
          {page.kept && <Button onClick={() => open("copy")}>Copy to others</Button>}
        </div>
      </div>
      <Summary page={page} />
      {!page.cleared && (
        <Message danger>
          <b>Nothing upside down is planned.</b> The intake waits for what its cautions ask for and for your
          confirmation.{" "}
          <Link to={`/trainees/${trainee.id}/intake`} className="underline">
            Intake
          </Link>
        </Message>
      )}
      {page.aches.map((ache) => (
        <Message danger key={ache.joint}>
          <b>
            {ache.joint} {ache.level} of 10
          </b>{" "}
          on {dayMonth(ache.day)}
          {ache.sharp && ", sharp"}. Ask before loading it; the week is planned around it.
        </Message>
      ))}
      {wrong !== null && wrong !== undefined && <Problem error={wrong} />}
      {refused !== null && <Problem error={refused} />}
      {page.refused.map((question) => (
        <Message danger key={question.text}>
          {question.text} What was planned before stands below.
        </Message>
      ))}
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-x-10 gap-y-6 lg:grid-cols-[minmax(0,1fr)_21rem]">
        <div aria-busy={planning} className={planning ? "opacity-60" : ""}>
          {days.length === 0 && (
            <Message>No day is left in this week. Set days, or go on to the week after.</Message>
          )}
          {days.map((d) => (
            <DayRibbon
              key={d.day}
              day={d}
              page={page}
              wholeS={wholeS}
              chosen={shown?.block.key}
              onChoose={choose}
            />
          ))}
          <KeepBar
            page={page}
            edits={edits}
            toKeep={toKeep && !planning && page.refused.length === 0}
            onKeep={keep}
            onUndo={onUndo}
            onVersion={onVersion}
          />
        </div>
        <div>
          {shown ? (
            <BlockPanel
              page={page}
              day={shown.day}
              block={shown.block}
              wish={wish}
              past={shown.day.day < page.on || older}
              onEdit={onEdit}
            />
          ) : (
            <p className="text-soft">Pick a block to see why it is there.</p>
          )}
        </div>
      </div>
      <div className="mt-6 grid gap-x-10 gap-y-5 border-t border-rule pt-4 lg:grid-cols-2">
        <LeftOutList
          page={page}
          onPin={(drill) => {
            const first = days.find((d) => d.day >= page.on);
            if (first) onEdit(pinned(wish, first.day, drill), `${page.titles[drill] ?? drill} put in`);
          }}
        />
        <section aria-label="Changed by hand">
          <h2 className="text-lg">{edits.length ? "Changed by hand" : "What could not be had"}</h2>
          {edits.length > 0 && (
            <ul className="list-disc pl-5">
              {edits.map((e, n) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: edits are only ever added at the end
                <li key={n}>{e.words}</li>
              ))}
            </ul>
          )}
          {page.changed.length > 0 && edits.length > 0 && (
            <>
              <h3 className="mt-2 font-bold">What follows from it</h3>
              <ul className="list-disc pl-5" data-testid="follows">
                {page.changed.map((line) => (
                  <li key={line}>{line}</li>
                ))}
              </ul>
            </>
          )}
          <Questions
            page={page}
            onPin={(d, drill) => onEdit(pinned(wish, d, drill), `${page.titles[drill] ?? drill} pinned`)}
          />
        </section>
      </div>
      {opened === "days" && <DaysForm page={page} wish={wish} onClose={() => open(null)} onEdit={onEdit} />}
      {opened === "share" && <ShareForm trainee={trainee.id} onClose={() => open(null)} />}
      {opened === "copy" && <CopyForm page={page} onClose={() => open(null)} />}
    </>
  );
}
