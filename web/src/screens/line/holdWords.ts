import type { FilmJudged } from "../../api/client";

type End = FilmJudged["holds"][number]["end"];

const ENDS: Record<End, string> = {
  over: "fell over",
  under: "fell under",
  "still-up": "still up at the end",
  "not-seen": "the end was not seen",
};

/** How a hold ended, as it is said. */
export const sideOf = (end: End) => ENDS[end];

/** Seconds to the tenth. */
export const seconds = (s: number) => `${s.toFixed(1)} s`;
