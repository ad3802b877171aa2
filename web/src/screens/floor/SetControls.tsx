import type { Form } from "../../api/client";
import { Button } from "../../parts/Button";
import type { SetInHand } from "./useSet";

/** What can be done with the set in hand; undefined where it is not offered. */
export interface Offers {
  main: { words: string; act: () => void };
  onForm: (form: Form) => void;
  onBack: (() => void) | undefined;
  onAhead: (() => void) | undefined;
  onSwap: (() => void) | undefined;
  onPain: () => void;
  onUndo: (() => void) | undefined;
}

interface Props extends Offers {
  set: SetInHand;
}

/** The keys of the floor as buttons: the set, how it was, and what to do instead. */
export function SetControls({ set, main, onForm, onBack, onAhead, onSwap, onPain, onUndo }: Props) {
  const { takes, phase, dose } = set;
  const formed = dose !== null;
  const waits = takes === "clock" || takes === "touches" || takes === "stretch";
  const off = waits && phase !== "going" && phase !== "stopped";
  const words = takes === "single" ? SINGLE : PLAIN;
  return (
    <div className="mt-3 grid gap-3 max-sm:gap-2">
      <div className="flex flex-wrap gap-3 max-sm:gap-2">
        <Button
          kind="act"
          live
          keycap="Space"
          className="grow-[3] basis-[12rem] max-sm:basis-full"
          onClick={main.act}
        >
          {main.words}
        </Button>
        {formed &&
          (["clean", "loose", "lost"] as const)
            // the big key says "good" already
            .filter((form) => takes !== "single" || form === "lost")
            .map((form) => (
              <Button
                key={form}
                live
                disabled={off}
                keycap={KEYS[form]}
                className="grow basis-[7rem] max-sm:basis-[28%] max-sm:px-2"
                onClick={() => onForm(form)}
              >
                {words[form]}
              </Button>
            ))}
        {(takes === "count" || takes === "touches" || takes === "minute") && (
          <>
            <Button
              live
              aria-label={takes === "touches" ? "One touch fewer" : "One fewer"}
              className="basis-16"
              onClick={() => set.step(-1)}
              disabled={takes === "touches" && off}
            >
              −
            </Button>
            <Button
              live
              aria-label={takes === "touches" ? "One touch" : "One more"}
              {...(takes === "touches" ? { keycap: "T" } : {})}
              className="basis-16"
              onClick={() => set.step(1)}
              disabled={takes === "touches" && off}
            >
              {takes === "touches" ? "Touch" : "+"}
            </Button>
          </>
        )}
      </div>
      <div className="grid grid-cols-6 gap-3 max-lg:grid-cols-3 max-sm:gap-2">
        <Small keycap="[" act={onBack}>
          Step back
        </Small>
        <Small keycap="]" act={onAhead}>
          Step ahead
        </Small>
        <Small keycap="S" act={onSwap}>
          Swap
        </Small>
        <Small keycap="F" act={set.n === null ? undefined : set.finish}>
          {set.now && set.now.done > 0 ? "Block done" : "Leave out"}
        </Small>
        <Small keycap="Z" act={onUndo}>
          Take back
        </Small>
        <Button kind="danger" keycap="P" className="min-h-14 px-2" onClick={onPain}>
          Pain stop
        </Button>
      </div>
    </div>
  );
}

const KEYS: Record<Form, string> = { clean: "C", loose: "L", lost: "X" };
const PLAIN: Record<Form, string> = { clean: "Clean", loose: "Loose", lost: "Lost" };
const SINGLE: Record<Form, string> = { clean: "Good", loose: "", lost: "Missed" };

function Small({
  keycap,
  act,
  children,
}: {
  keycap: string;
  act: (() => void) | undefined;
  children: string;
}) {
  return (
    <Button keycap={keycap} className="min-h-14 px-2" disabled={!act} onClick={act}>
      {children}
    </Button>
  );
}
