import { useEffect, useReducer } from "react";

/** What a whole screen hangs on, the seconds of a rest and the end of a window, is looked at so often. */
const QUARTER_MS = 250;

/**
 * Give the present moment in ms, again four times a second while `running`.
 *
 * The moment is read at each rendering and not remembered: a remembered one would stand still, and a rest never end,
 * when something else renders the page after the last tick.
 */
export function useNow(running: boolean) {
  const [, again] = useReducer((ticks: number) => ticks + 1, 0);
  useEffect(() => {
    if (!running) return;
    const timer = setInterval(again, QUARTER_MS);
    return () => clearInterval(timer);
  }, [running]);
  return Date.now();
}
