import { useEffect, useState } from "react";
import type { Variant } from "../../api/client";
import { useDrawings } from "../../api/drawings";
import { DrillPicture } from "../../drawings/DrillPicture";
import { SessionRibbon } from "../../drawings/SessionRibbon";
import type { SlotNow } from "../../live/floor";
import { endSession, happen, type LiveSession, standing, takeBackLast } from "../../live/session";
import { useAwake } from "../../live/useAwake";
import { useKeys } from "../../live/useKeys";
import { Button } from "../../parts/Button";
import { SeenFrom } from "../../parts/SeenFrom";
import { joined } from "../plan/ribbon";
import { Changed } from "./Changed";
import { Cues } from "./Cues";
import { Figure } from "./Figure";
import { PainForm } from "./PainForm";
import { partOfSlot } from "./ribbon";
import { type Offers, SetControls } from "./SetControls";
import { SwapSheet } from "./SwapSheet";
import { type SetInHand, useSet } from "./useSet";
import { lastMiss, Why } from "./Why";

/** A session under way: the ribbon with its marker, one drill, one big figure, one key a set. */
export function Running({ session }: { session: LiveSession }) {
  const set = useSet(session);
  const [asking, ask] = useState<"pain" | "swap" | null>(null);
  const { place, n, now, slot, variant, dose, takes, phase } = set;
  useAwake(true);
  useEffect(() => {
    document.title = `${variant?.title ?? "Session"} · Wise Perch`;
    return () => {
      document.title = "Wise Perch";
    };
  }, [variant?.title]);

  const choose = (key: string, how: string) => {
    if (n === null) return;
    set.drop();
    happen(session, { kind: "choose", slot: n, key, how }, `${session.sheet.variants[key]?.title} instead`);
  };
  const { back, ahead, swaps } = insteadOf(set, session);
  const main = mainOf(set, () => endSession(session, "finished"));
  const form = (name: "clean" | "loose" | "lost") => {
    if (!dose) return;
    if (
      (takes === "clock" || takes === "touches" || takes === "stretch") &&
      phase !== "going" &&
      phase !== "stopped"
    )
      return;
    set.keep(name);
  };
  const undo = standing(session).some((e) => e.what.kind !== "ready")
    ? () => {
        set.drop();
        takeBackLast(session);
      }
    : undefined;
  const offers: Offers = {
    main,
    onForm: form,
    onBack: back ? () => choose(back, "One step back.") : undefined,
    onAhead: ahead ? () => choose(ahead, "One step ahead.") : undefined,
    onSwap: swaps.length ? () => ask("swap") : undefined,
    onPain: () => ask("pain"),
    onUndo: undo,
  };
  useSessionKeys(set, offers);
  const wholeS = Math.max(...session.sheet.slots.map((s) => s.start_s + s.length_s));
  return (
    <>
      <SessionRibbon
        label={`Blocks of ${session.name}'s session`}
        parts={joined(session.sheet.slots.map((s, k) => partOfSlot(session.sheet, s, k, place.slots[k])))}
        wholeS={wholeS}
        chosen={n === null ? undefined : String(n)}
        markerS={markerOf(set, wholeS)}
      />
      {variant && now ? (
        <Present set={set} variant={variant} now={now} session={session} />
      ) : (
        <section>
          <h1 className="text-[2.5rem] leading-tight">The session is through.</h1>
          <p className="text-lg text-soft">End it, and see what it moved.</p>
          <Why session={session} missed={lastMiss(session)} />
        </section>
      )}
      <SetControls set={set} {...offers} />
      {slot && !slot.ahead && slot.ahead_closed && (
        <p className="mt-2 text-sm text-soft">Ahead: {slot.ahead_closed}</p>
      )}
      <Changed session={session} slots={place.slots} />
      {n !== null && (
        <p className="mt-3">
          <Button kind="quiet" onClick={() => endSession(session, "stopped")}>
            Stop the session here
          </Button>
        </p>
      )}
      {asking === "pain" && (
        <PainForm
          sheet={session.sheet}
          onClose={() => ask(null)}
          onPain={(pain) => {
            set.drop();
            happen(session, { kind: "pain", pains: [pain] }, `${pain.joint} ${pain.level} of 10`);
          }}
        />
      )}
      {asking === "swap" && (
        <SwapSheet
          session={session}
          keys={swaps}
          onClose={() => ask(null)}
          onSwap={(key) => {
            choose(key, "Swapped.");
            ask(null);
          }}
        />
      )}
    </>
  );
}

/** What may stand in for the present block: what loads a joint that is spared is not offered. */
function insteadOf({ place, now, slot }: SetInHand, session: LiveSession) {
  const may = (key: string | undefined): key is string =>
    Boolean(key) &&
    key !== now?.key &&
    !(session.sheet.variants[key ?? ""]?.joints ?? []).some((j) => place.spared.includes(j));
  return {
    back: slot && may(slot.back) ? slot.back : undefined,
    ahead: slot && may(slot.ahead) ? slot.ahead : undefined,
    swaps: (slot ? [slot.planned, ...slot.swaps] : []).filter(may),
  };
}

/** The same things by keys: one big key, how the set went, one rung back or ahead. */
function useSessionKeys(set: SetInHand, offers: Offers) {
  const { takes, phase, n } = set;
  const counts = takes === "count" || takes === "minute";
  useKeys({
    " ": offers.main.act,
    PageDown: offers.main.act,
    Enter: offers.main.act,
    c: () => offers.onForm("clean"),
    l: takes === "single" ? undefined : () => offers.onForm("loose"),
    x: () => offers.onForm("lost"),
    t: takes === "touches" && phase === "going" ? () => set.step(1) : undefined,
    ArrowUp: counts ? () => set.step(1) : undefined,
    ArrowDown: counts ? () => set.step(-1) : undefined,
    "[": offers.onBack,
    "]": offers.onAhead,
    s: offers.onSwap,
    f: n === null ? undefined : set.finish,
    z: offers.onUndo,
    p: offers.onPain,
  });
}

/** Where the session is: at the start of the block, and on by the share of its sets that is done. */
function markerOf({ slot, now }: SetInHand, wholeS: number): number {
  if (!slot || !now) return wholeS;
  return slot.start_s + slot.length_s * Math.min(1, now.done / Math.max(1, now.sets));
}

/** What the one big key does now. */
function mainOf(set: SetInHand, end: () => void): { words: string; act: () => void } {
  const { takes, phase, n, variant } = set;
  if (n === null) return { words: "End the session", act: end };
  if (takes === "done") return { words: variant?.test ? "Done, go on" : "Done", act: set.finish };
  if (takes === "minute")
    return set.begun
      ? { words: "Kept, clean", act: () => set.keep("clean") }
      : { words: "Start the minutes", act: set.start };
  if (takes === "count")
    return {
      words: phase === "rest" ? "Next set kept, clean" : "Set kept, clean",
      act: () => set.keep("clean"),
    };
  if (takes === "single") return { words: "Good", act: () => set.keep("clean") };
  if (phase === "going") return { words: "Stop", act: set.stop };
  if (phase === "stopped") return { words: "Keep, clean", act: () => set.keep("clean") };
  return { words: phase === "rest" ? "Start early" : "Start", act: set.start };
}

interface PresentProps {
  set: SetInHand;
  variant: Variant;
  now: SlotNow;
  session: LiveSession;
}

function Present({ set, variant, now, session }: PresentProps) {
  const { dose, takes, target } = set;
  const where = dose?.dial && now.at !== null ? (dose.dial.steps[now.at]?.words ?? "") : (dose?.place ?? "");
  const stack = dose?.dial && now.at !== null ? dose.dial.steps[now.at]?.stack : "";
  const side = dose && dose.sides > 1 ? `, ${now.done % 2 === 0 ? "left" : "right"} side` : "";
  const unit = takes === "minute" ? "minute" : takes === "single" ? "try" : "set";
  const asked = dose ? askedWords(set) : "";
  const missed = lastMiss(session);
  const drawn = useDrawings(session.trainee, drillsOf(session)).data?.find((d) => d.drill === variant.drill);
  return (
    <section aria-label="Now" className="grid gap-x-8 lg:grid-cols-[1fr_16rem]">
      <div>
        <p className="text-lg text-soft" role="status">
          {dose
            ? `${unit.charAt(0).toUpperCase()}${unit.slice(1)} ${Math.min(now.done + 1, now.sets)} of ${now.sets}${side}${asked && ` · ${asked}`}`
            : variant.test
              ? "A test"
              : "Preparation"}
        </p>
        <h1 className="text-[2.75rem] leading-none max-sm:text-[2rem]">{variant.title}</h1>
        <p className="mt-1 text-lg">
          {where && <b>{where}</b>}
          {stack && ` (${stack})`}
          {where && !variant.cues.length && dose && " · "}
          {!variant.cues.length && dose ? variant.about : ""}
        </p>
        <div className="min-h-20">
          {missed ? (
            <Why session={session} missed={missed} />
          ) : (
            <>
              {set.n !== null && <Cues variant={variant} slot={set.n} session={session} />}
              {session.note && <p className="text-soft">{session.note}</p>}
            </>
          )}
        </div>
        {variant.views.length > 0 && (
          <SeenFrom
            key={variant.drill}
            trainee={session.trainee}
            drill={variant.drill}
            title={variant.title}
            views={variant.views}
          />
        )}
        {now.why && <p className="mt-1 border-l-4 border-blue bg-tint px-3 py-1">{now.why}</p>}
        <Figure set={set} variant={variant} session={session} target={target} />
      </div>
      <div className="grid content-start gap-3 max-lg:grid-cols-[6rem_1fr] max-lg:items-center">
        {drawn && <DrillPicture key={variant.drill} drawn={drawn} size="h-16 lg:h-48" moves />}
        {variant.cautions.length > 0 && (
          <p className="self-start border-l-4 border-brick bg-sheet px-3 py-2 text-sm">
            {variant.cautions.join(" ")}
          </p>
        )}
      </div>
    </section>
  );
}

/** Every drill that may come up in a session, so that all their drawings are there before the line goes. */
function drillsOf(session: LiveSession): string[] {
  const named = Object.values(session.sheet.variants).map((v) => v.drill ?? "");
  return [...new Set(named)].filter(Boolean).sort();
}

function askedWords({ dose, takes, target, ceiling }: SetInHand): string {
  if (!dose || takes === "single" || takes === "touches") return "";
  if (takes === "stretch") return `${dose.work_s / dose.sides} s`;
  if (ceiling !== null) return `open set: ${dose.first_words}`;
  const forGate = dose.first !== null && target === dose.first;
  return `${forGate ? dose.first_words : dose.each_words}${dose.then ? `, then ${dose.then.words}` : ""}${forGate ? ", for the gate" : ""}`;
}
