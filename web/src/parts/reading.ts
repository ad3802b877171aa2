/**
 * How a coach reads it: inches and pounds beside centimetres and kilograms, what comes first in a date, what stands before the parts
 * of one. Only what is shown is written so. Data, what is sent and what is typed stay as they are: the trade measures in cm.
 */
import type { Coach } from "../api/client";

export type Manner = Pick<Coach, "units" | "dates" | "decimal">;

const USUAL: Manner = { units: "cm", dates: "day-month", decimal: "point" };
const CM_PER_INCH = 2.54;
const LB_PER_KG = 1 / 0.45359237;
const MONTHS = "Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec".split(" ");
const NUMBER = String.raw`\d+(?:[.,]\d+)?`;
/** A figure or a range with its unit, and not yet with the other unit beside it. */
const LENGTH = new RegExp(`(?:(${NUMBER})–)?(${NUMBER}) cm\\b(?! \\()`, "g");
const MASS = new RegExp(`(?:(${NUMBER})–)?(${NUMBER}) kg\\b(?! \\()`, "g");
const DATE = new RegExp(`\\b(\\d{1,2}) (${MONTHS.join("|")})([a-z]*)(?: (\\d{4}))?\\b`, "g");
const POINT = /(?<![\d.])(\d+)\.(\d+)(?![\d.])/g;

const inOther = (text: string, factor: number) =>
  Number((Number(text.replace(",", ".")) * factor).toFixed(1)).toString();

/** The pair of figures in the other unit, in brackets behind the first. */
const beside = (other: string, factor: number) => (whole: string, from: string | undefined, to: string) =>
  `${whole} (${from ? `${inOther(from, factor)}–` : ""}${inOther(to, factor)} ${other})`;

function dateAs(dates: Manner["dates"], day: string, month: string, rest: string, year: string | undefined) {
  if (dates === "month-day") return `${month}${rest} ${day}${year ? `, ${year}` : ""}`;
  const number = String(MONTHS.indexOf(month) + 1).padStart(2, "0");
  return `${year ? `${year}-` : ""}${number}-${day.padStart(2, "0")}`;
}

/** A text as a coach reads it. Written so once, it stays so. */
export function asRead(text: string, manner: Manner): string {
  let said = text;
  if (manner.units === "in")
    said = said.replace(LENGTH, beside("in", 1 / CM_PER_INCH)).replace(MASS, beside("lb", LB_PER_KG));
  if (manner.dates !== "day-month")
    said = said.replace(DATE, (_, day: string, month: string, rest: string, year?: string) =>
      dateAs(manner.dates, day, month, rest, year),
    );
  if (manner.decimal === "comma") said = said.replace(POINT, "$1,$2");
  return said;
}

const SKIPPED = "input, textarea, select, script, style, code, [contenteditable], [data-as-written]";

/** Write what is shown as this coach reads it, from now on; returns how to stop. The usual way costs nothing. */
export function readAs(manner: Manner): () => void {
  if (JSON.stringify({ ...USUAL, ...manner }) === JSON.stringify(USUAL)) return () => undefined;
  const write = (node: Node) => {
    if (node.nodeType === Node.TEXT_NODE) {
      const text = node.nodeValue ?? "";
      if (!/\d/.test(text) || node.parentElement?.closest(SKIPPED)) return;
      const said = asRead(text, manner);
      if (said !== text) node.nodeValue = said;
    } else for (const child of node.childNodes) write(child);
  };
  const observer = new MutationObserver((changes) => {
    for (const change of changes) {
      if (change.type === "characterData") write(change.target);
      for (const node of change.addedNodes) write(node);
    }
  });
  write(document.body);
  observer.observe(document.body, { subtree: true, childList: true, characterData: true });
  return () => observer.disconnect();
}
