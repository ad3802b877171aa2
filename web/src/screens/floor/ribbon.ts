import type { FloorSheet, FloorSlot } from "../../api/client";
import type { RibbonPart } from "../../drawings/SessionRibbon";
import type { SlotNow } from "../../live/floor";

/** A block of a running session as a part of the ribbon. */
export function partOfSlot(sheet: FloorSheet, slot: FloorSlot, n: number, now?: SlotNow): RibbonPart {
  const variant = sheet.variants[now?.key ?? slot.planned];
  const dose = variant?.dose;
  const state =
    now && { waiting: undefined, done: "done", skipped: "left out", dropped: "left out" }[now.status];
  return {
    key: String(n),
    title: variant?.title ?? "",
    lines: dose ? [dose.place, dose.amount].filter(Boolean) : [],
    startS: slot.start_s,
    lengthS: slot.length_s,
    kind: slot.kind,
    strength: slot.stands_out,
    rests: slot.kind === "work" && dose && dose.rest_s > 0 ? dose.sets - 1 : 0,
    ...(state ? { state: state as "done" | "left out" } : {}),
  };
}
