import type { Block, DayPlan } from "../../api/client";
import type { RibbonPart } from "../../drawings/SessionRibbon";

const restShare = (block: Block) =>
  block.dose && block.dose.rest_s > 0 ? Math.max(0, block.dose.sets - 1) : 0;

/** A block as a part of the ribbon. */
export const partOf = (block: Block): RibbonPart => ({
  key: block.key,
  title: block.title,
  lines: block.dose ? [block.dose.place, block.dose.amount].filter(Boolean) : [],
  startS: block.start_s,
  lengthS: block.length_s,
  kind: block.kind,
  strength: block.stands_out,
  rests: block.kind === "prepare" ? 0 : restShare(block),
  pinned: block.pinned,
});

/** The blocks of a day as a ribbon: what only prepares stands together, and each part reaches to the next one's start. */
export function partsOf(day: DayPlan): RibbonPart[] {
  const parts: RibbonPart[] = [];
  for (const block of day.blocks) {
    const last = parts.at(-1);
    const part = partOf(block);
    if (last?.kind === "prepare" && block.kind === "prepare") {
      last.title = `${last.title}, ${part.title.charAt(0).toLowerCase()}${part.title.slice(1)}`;
      last.lengthS = part.startS + part.lengthS - last.startS;
    } else parts.push(part);
  }
  return joined(parts);
}

/** The change-over behind a part belongs to it. */
export const joined = (parts: RibbonPart[]) =>
  parts.map((part, n) => ({
    ...part,
    lengthS: (parts[n + 1]?.startS ?? part.startS + part.lengthS) - part.startS,
  }));
