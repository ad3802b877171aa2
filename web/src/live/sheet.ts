/**
 * Walking a sheet: after every try the table laid out by the server says where it leads, so a run goes on without asking anybody.
 * The core walks the same table in the same way; a test holds the two against each other.
 */
import type { Sheet, Step } from "../api/client";

/** A try as a walk needs it. */
export interface Walked {
  outcome: string;
  value?: number | null | undefined;
  mode: string;
  level?: number | null | undefined;
}

/** Where a run stands on its sheet. */
export interface Now {
  /** The step to do, or null when the run is over. */
  step: Step | null;
  over: string;
  number: number;
  of: number;
  switched: boolean;
}

/** The coach went on by hand after so many tries, to this step (or end). */
export interface ByHand {
  after: number;
  to: string;
}

/** Walk a test's sheet by its tries; the same table and the same walk as the core's. */
export function walk(sheet: Sheet, tries: Walked[], byHand?: ByHand | null): Now {
  let at = sheet.first;
  let modeBefore = "";
  const made: Record<string, number> = {};
  const first = sheet.steps[sheet.first]?.mode ?? "";
  const isEnd = (name: string) => name in sheet.ends;
  for (const tried of tries) {
    const mode = tried.mode || first;
    if (isEnd(at) || sheet.steps[at]?.mode !== mode) {
      const chosen = isEnd(at) ? "" : (sheet.steps[at]?.change ?? "");
      at = sheet.steps[chosen]?.mode === mode ? chosen : (sheet.enter[mode] ?? at);
    }
    made[mode] = (made[mode] ?? 0) + 1;
    modeBefore = mode;
    const step = sheet.steps[at];
    if (isEnd(at) || !step) continue;
    at = next(step, tried);
    let there = sheet.steps[at];
    while (there && (made[there.mode] ?? 0) >= (sheet.tries[there.mode] ?? 0)) {
      at = "enough";
      there = undefined;
    }
  }
  if (byHand && byHand.after === tries.length) at = byHand.to;
  const step = isEnd(at) ? undefined : sheet.steps[at];
  if (!step)
    return {
      step: null,
      over: sheet.ends[at] ?? "",
      number: tries.length,
      of: tries.length,
      switched: false,
    };
  return {
    step,
    over: "",
    number: (made[step.mode] ?? 0) + 1,
    of: sheet.tries[step.mode] ?? 0,
    switched: tries.length > 0 && step.mode !== modeBefore,
  };
}

function next(step: Step, tried: Walked): string {
  const fitting = step.ways.filter(
    (way) =>
      (way.outcome == null || way.outcome === tried.outcome) &&
      (way.below == null || (tried.value != null && tried.value < way.below)),
  );
  const far = (way: Step["ways"][number]) =>
    way.level == null || tried.level == null ? 0 : Math.abs(way.level - tried.level);
  // a setting that is not on the sheet is read as the nearest that is
  return fitting.reduce((best, way) => (far(way) < far(best) ? way : best)).to;
}

/** A setting as the key of the sheet's tables: as short as it can be written. */
export const levelName = (level: number) => String(Number(level.toPrecision(6)));
