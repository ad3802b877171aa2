import { useLayoutEffect, useRef } from "react";

/** What each key does now; undefined where it does nothing. */
export type Keys = Record<string, (() => void) | undefined>;

/** Carry out live keys, by `event.key` (letters in lower case), except while typing or with a dialog open. */
export function useKeys(keys: Keys) {
  const latest = useRef(keys);
  latest.current = keys;
  // with the page itself and not after it is painted: a key pressed the moment a screen is there belongs to that screen
  useLayoutEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      if (event.repeat || event.ctrlKey || event.metaKey || event.altKey) return;
      const target = event.target as HTMLElement;
      if (target.closest("input, textarea, select, [role=dialog], [role=menu], [role=slider]")) return;
      const name = event.key.length === 1 ? event.key.toLowerCase() : event.key;
      // Enter on a focused control presses that control
      if (name === "Enter" && target.closest("button, a")) return;
      const act = latest.current[name];
      if (!act) return;
      event.preventDefault();
      act();
    };
    window.addEventListener("keydown", pressed);
    return () => window.removeEventListener("keydown", pressed);
  }, []);
}
