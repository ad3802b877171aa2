/** Days, shares and measures as a coach says them. */
import type {
  Dialled,
  Dose,
  Dosed,
  Drill,
  DrillStanding,
  Fell,
  Form,
  Gate,
  Mode,
  SmallBay,
} from "../api/client";

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

/** A try's figure, or on a ladder its setting, as a coach says it. */
export function figure(value: number, mode: Mode): string {
  if (mode.ladder)
    return value === 0 && mode.ladder.dial.endsWith("height") ? "floor" : `${value} ${mode.ladder.unit}`;
  return mode.measure === "hold" || mode.measure === "lowering"
    ? secs(value)
    : measured(value, null, mode.measure);
}
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
  waived: "waived",
};

const ONES =
  "no one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen seventeen eighteen nineteen twenty".split(
    " ",
  );
/** Small numbers in words. */
export const count = (n: number) => ONES[n] ?? String(n);
export const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

type Measure = DrillStanding["measure"];
/** What a measure is asked for as, and its unit behind a figure. */
export const MEASURES: Record<Measure, { label: string; unit: string }> = {
  hold: { label: "Seconds", unit: " s" },
  reps: { label: "Reps", unit: "" },
  rate: { label: "How many", unit: "" },
  touches: { label: "Touches", unit: " touches" },
  lowering: { label: "Seconds on the way down", unit: " s" },
  height: { label: "Height, cm", unit: " cm" },
  distance: { label: "Distance, cm", unit: " cm" },
  angle: { label: "Degrees", unit: "°" },
};
export const measured = (value: number, n: number | null | undefined, measure: Measure) => {
  if (n) return `${value} of ${n}`;
  // a long distance is said in metres
  if (measure === "distance" && Math.abs(value) >= 200) return `${value / 100} m`;
  return `${value}${MEASURES[measure].unit}`;
};

type Range = NonNullable<Dose["sets"]>;
const range = (r: Range) => (r.least === r.most ? `${r.least}` : `${r.least}–${r.most}`);
/** A dose in words: "2–4 sets of 15–30 s, rest 30 s or more". */
export function doseWords(dose: Dose, measure: Measure): string {
  const sets = dose.sets ? `${range(dose.sets)} ${measure === "rate" ? "tries" : "sets"}` : "";
  const each = dose.each ? `${sets ? "of " : ""}${range(dose.each)}${MEASURES[measure].unit || ""}` : "";
  const rest = dose.rest_s ? `rest ${dose.rest_s.value} s or more` : "";
  const days = dose.days ? `${range(dose.days)} days a week` : "";
  const share = dose.of_best ? `at ${range(dose.of_best)} % of the best recent clean one` : "";
  const body = [[sets, each, share].filter(Boolean).join(" "), rest, days].filter(Boolean).join(", ");
  return [body && `${body}.`, dose.words].filter(Boolean).join(" ");
}

/** What a drill is, with where the figures in it come from. */
export const aboutWords = (drill: Drill) =>
  drill.said ? `${drill.about} (${ORIGIN[drill.said]})` : drill.about;

/** Where the figures of a dose come from, said once where all come from one place. */
export function doseOrigin(dose: Dose): string {
  const said = dose.said ? { origin: dose.said } : null;
  const parts = {
    sets: dose.sets,
    amount: dose.each ?? dose.of_best,
    rest: dose.rest_s,
    days: dose.days,
    words: said,
  };
  const named = Object.entries(parts).flatMap(([part, figure]) =>
    figure ? [[part, ORIGIN[figure.origin] ?? figure.origin] as const] : [],
  );
  const origins = new Set(named.map(([, origin]) => origin));
  if (origins.size < 2) return [...origins].join();
  return [...origins]
    .map((origin) => {
      const own = named.filter(([, o]) => o === origin).map(([part]) => part);
      return `${own.join(" and ")}: ${origin}`;
    })
    .join("; ");
}

/** A gate in the trade's words, as the server says it. */
export function gateWords(gate: Gate): string {
  const amount = measured(gate.value, gate.of, gate.measure);
  const at = gate.at
    ? ` at ${gate.at.dial.replaceAll("-", " ")} ${gate.at.at_most ?? gate.at.at_least} ${gate.at.at_most === null || gate.at.at_most === undefined ? "or more" : "or less"}`
    : "";
  return `${amount}${gate.fewer ? " or less" : ""}${gate.each_side ? " a side" : ""}${at}`;
}

/** A dose worked out for a day: "3 × 4 s", "10 singles", "5 min, 1 rep each minute". */
export function amountWords(dosed: Dosed, sets = dosed.sets): string {
  const each = measured(dosed.each, null, dosed.measure);
  const side = dosed.sides > 1 ? " a side" : "";
  switch (dosed.way) {
    case "singles":
      return `${sets} ${sets === 1 ? "try" : "singles"}${side}`;
    case "minute":
      return dosed.measure === "reps"
        ? `${sets} min, ${dosed.each} ${dosed.each === 1 ? "rep" : "reps"} each minute`
        : `${sets} min, one of ${each} each minute`;
    case "rounds":
      return dosed.then
        ? `${sets} rounds of ${dosed.each} and ${measured(dosed.then.each, null, dosed.then.measure)} ${dosed.then.title.toLowerCase()}`
        : `${sets} × ${each}`;
    case "touches":
      return `${sets} × ${dosed.window_s} s, count the touches`;
    case "stretch":
      return `${sets} × ${dosed.work_s / dosed.sides} s${side}`;
    default:
      return `${sets} × ${each}${side}`;
  }
}

/** A dial's setting: "hands to wall 40 cm". */
export function settingWords(dialled: Dialled, at = dialled.at): string {
  const setting = dialled.steps[at]?.setting ?? 0;
  if (setting === 0 && dialled.dial.endsWith("height")) return "on the flat floor";
  return `${dialled.dial.replaceAll("-", " ")} ${setting}${dialled.unit === "deg" ? "°" : ` ${dialled.unit}`}`;
}

/** Where a drill is set up: its dial's setting, or a distance that is no dial. */
export const placeWords = (dosed: Dosed, at = dosed.dialled?.at ?? 0) =>
  dosed.dialled ? settingWords(dosed.dialled, at) : dosed.place;

const WEEKDAY = new Intl.DateTimeFormat("en-GB", { weekday: "short" });
const WEEKDAY_LONG = new Intl.DateTimeFormat("en-GB", { weekday: "long" });
/** Days come as "2026-11-30"; read at noon no time zone moves them. */
export const atNoon = (iso: string) => new Date(`${iso}T12:00:00`);
export const weekday = (iso: string) => WEEKDAY.format(atNoon(iso));
export const weekdayLong = (iso: string) => WEEKDAY_LONG.format(atNoon(iso));
export const dayMonth = (iso: string) => day(`${iso}T12:00:00`);
export const isoDay = (date: Date) =>
  `${date.getFullYear()}-${String(date.getMonth() + 1).padStart(2, "0")}-${String(date.getDate()).padStart(2, "0")}`;
export const shifted = (iso: string, days: number) => {
  const date = atNoon(iso);
  date.setDate(date.getDate() + days);
  return isoDay(date);
};
export const minutesOf = (seconds: number) => Math.ceil(seconds / 60);
/** A clock: 0:45. */
export const clock = (seconds: number) =>
  `${Math.floor(seconds / 60)}:${String(Math.floor(seconds) % 60).padStart(2, "0")}`;
