/** Days, shares and measures as a coach says them. */
import type { Dose, Drill, DrillStanding, Fell, Form, Gate, Mode, SmallBay } from "../api/client";

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
