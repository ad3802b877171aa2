/** Days, shares and measures as a coach says them. */
import type { Fell, Form, Outcome, SmallBay } from "../api/client";

type State = SmallBay["rungs"][number];

const DAY = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short" });
const LONG_DAY = new Intl.DateTimeFormat("en-GB", { weekday: "long", day: "numeric", month: "long" });

export const day = (iso: string) => DAY.format(new Date(iso));
export const longDay = (date: Date) => LONG_DAY.format(date);

export const percent = (share: number | null) => (share === null ? "–" : `${Math.round(share * 100)} %`);

export const between = (interval: readonly unknown[] | null) =>
  interval ? `${Math.round(Number(interval[0]) * 100)}–${Math.round(Number(interval[1]) * 100)} %` : "";

/** Seconds with one decimal, rounded down, so that no figure claims more than was held. */
export const secs = (s: number | null) =>
  s === null ? "–" : `${(Math.floor(s * 10 + 1e-6) / 10).toFixed(1)} s`;

export const OUTCOMES: Record<Outcome, string> = {
  held: "held",
  overshot: "overshot",
  undershot: "undershot",
};
export const FELL: Record<Fell, string> = { over: "fell over", under: "fell under", down: "came down" };
export const FORMS: readonly (readonly [Form, string])[] = [
  ["clean", "clean"],
  ["loose", "loose"],
  ["lost", "lost"],
];
export const ORIGIN: Record<string, string> = {
  practice: "common practice",
  ours: "our own choice",
  published: "published",
};
export const STATE: Record<State, string> = {
  "not yet": "not met yet",
  met: "met",
  proven: "proven",
  stale: "stale",
};

const ONES = "no one two three four five six seven eight nine ten eleven twelve".split(" ");
/** Small numbers in words. */
export const count = (n: number) => ONES[n] ?? String(n);
export const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
