import { useEffect, useRef, useState } from "react";
import { type Hold, waitIn, waitingIn } from "../../line/proposals";
import type { LiveRun } from "../../live/run";
import type { TryInHand } from "./useTry";

/** The try that a film proposes next, and what can be done with it. */
export interface FilmInHand {
  first: Hold | undefined;
  left: number;
  keep: () => void;
  drop: () => void;
  next: () => void;
  /** The last one is proposed again, where it was taken back. */
  back: () => void;
}

/** Tries from a film, one after the other: nothing is kept without the coach's word. */
export function useFilm(run: LiveRun, hand: TryInHand): FilmInHand {
  const [waiting, setWaiting] = useState(() => (run.film ? waitingIn(run.id) : []));
  const done = useRef<Hold[]>([]);
  const first = waiting[0];
  const { hold, phase, setValue } = hand;
  useEffect(() => {
    if (first && !hold && phase !== "over") setValue(first.seconds);
  }, [first, hold, phase, setValue]);
  const set = (holds: Hold[]) => {
    waitIn(run.id, holds);
    setWaiting(holds);
  };
  const next = () => {
    if (first) done.current.push(first);
    // what was pressed is about the try before: Enter says "as seen" of the next one, and does not press it again
    if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
    set(waiting.slice(1));
  };
  return {
    first,
    left: waiting.length,
    next,
    keep: () => {
      if (!first) return;
      const fell = first.end === "over" || first.end === "under" ? first.end : null;
      const marks = hand.mode.marks.filter((m) => m.figure);
      const mark = marks.find((m) => (m.fell ?? null) === fell) ?? marks.find((m) => !m.fell);
      if (!mark) return;
      hand.keep(mark);
      next();
    },
    drop: () => {
      hand.drop();
      next();
    },
    back: () => {
      const last = done.current.pop();
      if (last) set([last, ...waiting]);
    },
  };
}
