import type { LiveRun, LiveTry } from "../../live/run";
import { modeOf } from "../../live/run";
import { day, FELL, figure } from "../../parts/words";

/** A try in words: side, outcome, figure, setting, how it ended. */
export function tryWords(t: LiveTry, run: LiveRun): string {
  const mode = modeOf(run.protocol.test, t.mode);
  const level = t.level === null ? "" : `at ${figure(t.level, mode)}`;
  const plain = { ...mode, ladder: null };
  const value = t.value === null ? "" : figure(t.value, plain);
  const parts = [t.side ?? "", t.outcome, value, level, t.fell ? FELL[t.fell] : "", t.form ?? ""];
  const more = [
    t.early ? "started early" : "",
    t.note,
    run.film
      ? `from a film of ${day(run.startedAt)}`
      : run.paper
        ? `from paper of ${day(run.startedAt)}`
        : "",
  ];
  return [parts.filter(Boolean).join(" "), ...more].filter(Boolean).join(", ");
}
