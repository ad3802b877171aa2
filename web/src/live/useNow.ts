import { useEffect, useReducer } from "react";

/**
 * Give the present moment in ms, again on every frame while `running`.
 *
 * The moment is read at each rendering and not remembered: a remembered one would stand still, and a rest never end,
 * when something else renders the page after the last frame.
 */
export function useNow(running: boolean) {
  const [, again] = useReducer((frames: number) => frames + 1, 0);
  useEffect(() => {
    if (!running) return;
    let frame = requestAnimationFrame(function tick() {
      again();
      frame = requestAnimationFrame(tick);
    });
    return () => cancelAnimationFrame(frame);
  }, [running]);
  return Date.now();
}
