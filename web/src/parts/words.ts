/** Days, shares and measures as a coach says them. */
import type { DrillStanding, Fell, Form, Mode, SmallBay } from "../api/client";

type State = SmallBay["rungs"][number];

const DAY = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short" });
const LONG_DAY = new Intl.DateTimeFormat("en-GB", { weekday: "long", day: "numeric", month: "long" });

/** A moment as its day: "3 May". */
export const day = (iso: string) => DAY.format(new Date(iso));
const MOMENT = new Intl.DateTimeFormat("en-GB", {
  day: "numeric",
  month: "short",
  hour: "2-digit",
  minute: "2-digit",
});
/** The day it is now in a time zone, as "2026-05-31". */
export const dayIn = (timeZone: string) =>
  new Intl.DateTimeFormat("en-CA", { timeZone, year: "numeric", month: "2-digit", day: "2-digit" }).format(
    new Date(),
  );
/** A moment with its hour: "3 May, 18:05". */
export const moment = (iso: string) => MOMENT.format(new Date(iso));
const HOUR = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit" });
/** The hour of a moment: "18:05". */
export const hour = (iso: string) => HOUR.format(new Date(iso));
/** A day with its weekday and year. */
export const longDay = (date: Date) => LONG_DAY.format(date);

/** A share as a coach reads it: "83 %". */
export const percent = (share: number | null) => (share === null ? "–" : `${Math.round(share * 100)} %`);

/** A range of shares: "40–89 %". */
export const between = (interval: readonly unknown[] | null) =>
  interval ? `${Math.round(Number(interval[0]) * 100)}–${Math.round(Number(interval[1]) * 100)} %` : "";

/** Seconds with one decimal, rounded down, so that no figure claims more than was held. */
export const secs = (s: number | null) =>
  s === null ? "–" : `${(Math.floor(s * 10 + 1e-6) / 10).toFixed(1)} s`;

/** A try's figure, or on a ladder its setting, as a coach says it. */
export function figure(value: number, mode: Mode): string {
  if (mode.ladder)
    return value === 0 && mode.ladder.dial.endsWith("height") ? "floor" : `${value} ${mode.ladder.unit}`;
  return mode.measure === "hold" || mode.measure === "lowering"
    ? secs(value)
    : measured(value, null, mode.measure);
}
/** How a hold ended, in words. */
export const FELL: Record<Fell, string> = { over: "fell over", under: "fell under", down: "came down" };
/** The forms of a set with their words. */
export const FORMS: readonly (readonly [Form, string])[] = [
  ["clean", "clean"],
  ["loose", "loose"],
  ["lost", "lost"],
];
/** Where a figure comes from, in words. */
export const ORIGIN: Record<string, string> = {
  practice: "common practice",
  ours: "our own choice",
  published: "published",
};
/** What a gate's state is called. */
export const STATE: Record<State, string> = {
  "not yet": "not met yet",
  met: "met",
  proven: "proven",
  stale: "stale",
  waived: "waived",
};

const ONES =
  "no one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen seventeen eighteen nineteen twenty".split(
    " ",
  );
/** Small numbers in words. */
export const count = (n: number) => ONES[n] ?? String(n);
/** The text with its first letter large. */
export const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

type Measure = DrillStanding["measure"];
/** The unit behind a figure of a try. */
const UNITS: Record<Measure, string> = {
  hold: " s",
  reps: "",
  rate: "",
  touches: " touches",
  lowering: " s",
  height: " cm",
  distance: " cm",
  angle: "°",
};
/** A figure with its unit; `n` for a rate. */
export const measured = (value: number, n: number | null | undefined, measure: Measure) => {
  if (n) return `${value} of ${n}`;
  // a long distance is said in metres
  if (measure === "distance" && Math.abs(value) >= 200) return `${value / 100} m`;
  return `${value}${UNITS[measure]}`;
};

const WEEKDAY = new Intl.DateTimeFormat("en-GB", { weekday: "short" });
const WEEKDAY_LONG = new Intl.DateTimeFormat("en-GB", { weekday: "long" });
/** Days come as "2026-11-30"; read at noon no time zone moves them. */
export const atNoon = (iso: string) => new Date(`${iso}T12:00:00`);
/** The weekday of a day, short. */
export const weekday = (iso: string) => WEEKDAY.format(atNoon(iso));
/** The weekday of a day in full. */
export const weekdayLong = (iso: string) => WEEKDAY_LONG.format(atNoon(iso));
/** A day without its year: "30 Nov". */
export const dayMonth = (iso: string) => day(`${iso}T12:00:00`);
/** A day as "2026-11-30". */
export const isoDay = (date: Date) =>
  `${date.getFullYear()}-${String(date.getMonth() + 1).padStart(2, "0")}-${String(date.getDate()).padStart(2, "0")}`;
/** The day so many days later. */
export const shifted = (iso: string, days: number) => {
  const date = atNoon(iso);
  date.setDate(date.getDate() + days);
  return isoDay(date);
};
/** Whole minutes, rounded up. */
export const minutesOf = (seconds: number) => Math.ceil(seconds / 60);
/** A clock: 0:45. */
export const clock = (seconds: number) =>
  `${Math.floor(seconds / 60)}:${String(Math.floor(seconds) % 60).padStart(2, "0")}`;
