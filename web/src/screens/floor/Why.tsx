import type { FloorSheet, Reason } from "../../api/client";
import { happen, type LiveSession, standing } from "../../live/session";
import { useKeys } from "../../live/useKeys";
import { Button } from "../../parts/Button";

/** One key for each reason; every one is a letter of its word that no other key of the floor has. */
const KEYS: Record<Reason, string> = { strength: "G", range: "R", balance: "B", fear: "E" };

/** After a miss: why it failed, by one key. Nothing has to be answered; the next set goes on without it. */
export function Why({ session, missed }: { session: LiveSession; missed: Missed | null }) {
  const reasons = missed === null ? [] : (session.sheet.changes.reasons ?? []);
  const say = (reason: Reason, title: string) => {
    if (missed === null) return;
    const what = { kind: "why" as const, slot: missed.slot, key: missed.key, reason };
    happen(session, what, `it failed for ${title.toLowerCase()}`);
  };
  useKeys(
    Object.fromEntries(reasons.map((r) => [KEYS[r.reason].toLowerCase(), () => say(r.reason, r.title)])),
  );
  if (!missed || !reasons.length) return null;
  return (
    <fieldset className="mt-1">
      <legend className="text-sm text-soft">
        <span className="sr-only">{missed.title}: </span>Why did the last set fail?
      </legend>
      <div className="grid max-w-xl grid-cols-4 gap-2">
        {reasons.map((r) => (
          <Button
            key={r.reason}
            keycap={KEYS[r.reason]}
            className="min-h-14 px-1 max-sm:text-sm"
            onClick={() => say(r.reason, r.title)}
          >
            {r.title}
          </Button>
        ))}
      </div>
    </fieldset>
  );
}

/** A set that was missed, or fell short. */
export interface Missed {
  slot: number;
  key: string;
  title: string;
}

/** The newest set, if it was missed or fell short and nothing was said of it or done since. */
export function lastMiss(session: LiveSession): Missed | null {
  const last = standing(session).at(-1)?.what;
  if (last?.kind !== "set" || last.slot == null) return null;
  const variant = session.sheet.variants[last.key ?? ""];
  if (!variant?.dose || !asksWhy(session.sheet, last.key ?? "")) return null;
  const single = variant.dose.measure === "rate";
  const short = last.asked != null && last.value != null && last.value < last.asked;
  const missed = last.form === "lost" || short || (single && !last.value);
  return missed ? { slot: last.slot, key: last.key ?? "", title: variant.title } : null;
}

/** A stretch or preparation is neither missed nor failed. */
function asksWhy(sheet: FloorSheet, key: string): boolean {
  const way = sheet.variants[key]?.dose?.way;
  return way !== undefined && way !== "stretch";
}
