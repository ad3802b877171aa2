import { useEffect, useReducer, useRef } from "react";

/** What a whole screen hangs on, the seconds of a rest and the end of a window, is looked at so often. */
const QUARTER_MS = 250;

/**
 * Give the present moment in ms, again while `running` whenever the second that is shown of it is another one:
 * `second` says which that is. It is looked at four times a second, and drawn for nothing else.
 *
 * The moment is read at each rendering and not remembered: a remembered one would stand still, and a rest never end,
 * when something else renders the page after the last tick.
 */
export function useNow(running: boolean, second: (moment: number) => number) {
  const [, again] = useReducer((ticks: number) => ticks + 1, 0);
  const moment = Date.now();
  const shown = useRef(second);
  const drawn = useRef(0);
  useEffect(() => {
    shown.current = second;
    drawn.current = second(moment);
  });
  useEffect(() => {
    if (!running) return;
    const timer = setInterval(() => {
      if (shown.current(Date.now()) !== drawn.current) again();
    }, QUARTER_MS);
    return () => clearInterval(timer);
  }, [running]);
  return moment;
}

interface Clock {
  /** When it began, ms, if it runs. */
  since?: number | undefined;
  /** When it is through, if it runs down, ms; 0 where it does not. */
  until: number;
  /** What it may run to, s: reaching it is drawn at once. */
  limit?: number | null;
}

/** The second that a clock shows. */
export function secondOf({ since, until, limit = null }: Clock) {
  return (moment: number) => {
    if (!since) return Math.max(0, Math.ceil((until - moment) / 1000));
    const passed = (moment - since) / 1000;
    return Math.floor(passed) + (limit !== null && passed >= limit ? 1 : 0);
  };
}
