import type { Variant } from "../../api/client";
import { happen, type LiveSession, standing } from "../../live/session";

interface Props {
  variant: Variant;
  slot: number;
  session: LiveSession;
}

/** The cues of a drill, the one that worked last in front; a tap says that one worked today. */
export function Cues({ variant, slot, session }: Props) {
  if (!variant.dose || !variant.cues.length) return null;
  const worked = standing(session)
    .filter((e) => e.what.kind === "cue" && e.what.key === variant.key)
    .at(-1)?.what.how;
  return (
    <div className="mt-1 flex flex-wrap items-center gap-2">
      <span className="text-sm text-soft">Tap the cue that worked:</span>
      {variant.cues.map((cue) => {
        const before = !worked && cue === variant.worked_cue;
        return (
          <button
            key={cue}
            type="button"
            aria-pressed={cue === worked}
            className={`min-h-11 rounded-md border px-3 text-left text-base ${cue === worked ? "border-blue bg-tint font-bold" : "border-soft"}`}
            onClick={() =>
              cue !== worked &&
              happen(session, { kind: "cue", slot, key: variant.key, how: cue }, `"${cue}" worked`)
            }
          >
            {cue}
            {cue === worked && <span className="ml-2 text-sm text-soft">worked</span>}
            {before && <span className="ml-2 text-sm text-soft">worked last time</span>}
          </button>
        );
      })}
    </div>
  );
}
