import { useState } from "react";
import { useParams, useSearchParams } from "react-router";
import type { PlanPage } from "../../api/client";
import { usePlan, usePlanLook, usePlanVersion, type WishSent } from "../../api/hooks";
import { Message, Problem, Waiting } from "../../parts/Message";
import { BlockPanel } from "./BlockPanel";
import { ChangedByHand } from "./ChangedByHand";
import { CopyForm } from "./CopyForm";
import { DayRibbon } from "./DayRibbon";
import { DaysForm } from "./DaysForm";
import { type Edit, pinned, wishOf } from "./edits";
import { KeepBar } from "./KeepBar";
import { LeftOutList } from "./LeftOutList";
import { ShareForm } from "./ShareForm";
import { Summary } from "./Summary";
import { useKeepWeek } from "./useKeepWeek";
import { type Opened, WeekHeader } from "./WeekHeader";
import { WeekWarnings } from "./WeekWarnings";

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
  const [opened, open] = useState<Opened>(null);
  const [chosen, choose] = useState<string>();
  const { planned, trainee } = page;
  const wish = edits.at(-1)?.wish ?? wishOf(base);
  const { keep, refused } = useKeepWeek(page, wish, onKept);
  const days = planned?.days ?? base.planned?.days ?? [];
  const all = days.flatMap((d) => d.blocks.map((block) => ({ day: d, block })));
  const shown =
    all.find((x) => x.block.key === chosen) ??
    all.find((x) => x.block.kind !== "prepare" && x.day.day >= page.on);
  const wholeS = Math.max(600, ...days.map((d) => d.length_s), ...days.map((d) => d.minutes * 60));
  const toKeep = page.kept === null && planned !== null && !older;
  return (
    <>
      <WeekHeader
        page={page}
        older={older}
        onOpen={open}
        onWeek={onWeek}
        onPlanAgain={() => onEdit(wish, "what is left of the week planned again")}
      />
      <Summary page={page} />
      <WeekWarnings page={page} wrong={[wrong, refused]} />
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
        <ChangedByHand
          page={page}
          edits={edits}
          onPin={(d, drill) => onEdit(pinned(wish, d, drill), `${page.titles[drill] ?? drill} pinned`)}
        />
      </div>
      {opened === "days" && <DaysForm page={page} wish={wish} onClose={() => open(null)} onEdit={onEdit} />}
      {opened === "share" && <ShareForm trainee={trainee.id} onClose={() => open(null)} />}
      {opened === "copy" && <CopyForm page={page} onClose={() => open(null)} />}
    </>
  );
}
