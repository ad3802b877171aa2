import { Seconds } from "../../parts/Seconds";
import type { TryInHand } from "./useTry";

const LOUD = "my-1 font-head leading-[1.02] font-bold text-[11rem] max-sm:text-[6rem]";
/** Beside a setting, which is as loud. */
const BESIDE = "my-1 font-head leading-[1.02] font-bold text-[7.5rem] max-sm:text-[4.5rem]";

/** The loudest thing on the Bench: the rest that is left, the clock, the count, or how far the test has come. */
export function BigFigure({ hand }: { hand: TryInHand }) {
  const { phase, mode, restLeft, value, timeLeft, passed, hold, tries } = hand;
  const running = phase === "going" && hold ? <Seconds since={hold.since} /> : null;
  const LOOK = mode.ladder && phase !== "over" ? BESIDE : LOUD;
  if (phase === "rest")
    return (
      <p className={LOOK} data-testid="figure">
        <span className="sr-only">rest left </span>
        {Math.floor(restLeft / 60)}:{String(restLeft % 60).padStart(2, "0")}
      </p>
    );
  if (phase === "over")
    return (
      <p className={`${LOOK} text-soft`} data-testid="figure">
        {tries.length}
        <span className="ml-3 text-[40%]">{tries.length === 1 ? "try" : "tries"}</span>
      </p>
    );
  if (mode.takes === "mark")
    return (
      <p className={`${LOOK} text-blue`} data-testid="figure">
        {running ?? (hold ? passed.toFixed(1) : `${tries.length + 1}`)}
        <span className="ml-3 text-[40%]">{hold ? "s" : mode.ladder ? "" : "next"}</span>
      </p>
    );
  if (mode.takes === "window" || mode.takes === "count")
    return (
      <p className={`${LOOK} flex flex-wrap items-baseline gap-x-8 text-blue`} data-testid="figure">
        <span>
          {value ?? 0}
          <span className="ml-3 text-[40%]">{mode.figure}</span>
        </span>
        {mode.takes === "window" && phase !== "stopped" && (
          <span className="text-ink">
            <span className="sr-only">seconds left </span>
            {hold ? timeLeft : mode.window_s?.value}
            <span className="ml-2 text-[40%]">s left</span>
          </span>
        )}
      </p>
    );
  return (
    <p className={`${LOOK} text-blue`} data-testid="figure">
      {running ?? (value ?? 0).toFixed(1)}
      <span className="ml-3 text-[40%]">s</span>
    </p>
  );
}
