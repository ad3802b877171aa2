import type { FloorSheet } from "../../api/client";
import { clock } from "../../parts/words";

/** What was looked at before a session. */
export interface Answers {
  room: string[];
  checks: Record<string, boolean>;
  warm_up: string;
}

interface Props {
  before: FloorSheet["before"];
  answers: Answers;
  onAnswer: (answers: Answers) => void;
}

/** The room, the cold checks, and which warm-up. */
export function BeforeWeBegin({ before, answers, onAnswer }: Props) {
  const tick = (line: string) =>
    onAnswer({
      ...answers,
      room: answers.room.includes(line) ? answers.room.filter((r) => r !== line) : [...answers.room, line],
    });
  const answer = (check: string, fine: boolean) =>
    onAnswer({ ...answers, checks: { ...answers.checks, [check]: fine } });
  const chosen = before.warm_ups.find((w) => w.warm_up === answers.warm_up);
  if (!before.room.length && !before.warm_ups.length) return null;
  return (
    <div className="mt-4 grid gap-x-12 gap-y-4 lg:grid-cols-3">
      <fieldset>
        <legend className="mb-1 text-xl font-bold">The room</legend>
        {before.room.map((line) => (
          <label key={line} className="flex min-h-9 items-start gap-2 py-1">
            <input
              type="checkbox"
              className="mt-1 accent-blue"
              checked={answers.room.includes(line)}
              onChange={() => tick(line)}
            />
            {line}
          </label>
        ))}
      </fieldset>
      <fieldset>
        <legend className="mb-1 text-xl font-bold">Warm up</legend>
        {before.warm_ups.map((w) => (
          <label key={w.warm_up} className="flex min-h-9 items-center gap-2">
            <input
              type="radio"
              name="way to get warm"
              className="accent-blue"
              checked={answers.warm_up === w.warm_up}
              onChange={() => onAnswer({ ...answers, warm_up: w.warm_up })}
            />
            {w.title}, {clock(w.parts.reduce((sum, part) => sum + part.seconds, 0))}
          </label>
        ))}
        <p className="mt-1 text-sm text-soft">{chosen?.parts.map((part) => part.title).join(" · ")}</p>
      </fieldset>
      {before.checks.length > 0 && (
        <fieldset>
          <legend className="mb-1 text-xl font-bold">Cold checks, a minute</legend>
          {before.checks.map((c) => (
            <fieldset key={c.check} className="mb-2">
              <legend>{c.ask}</legend>
              <p className="flex gap-2">
                {([true, false] as const).map((fine) => (
                  <button
                    key={String(fine)}
                    type="button"
                    aria-pressed={answers.checks[c.check] === fine}
                    className={`min-h-11 rounded-md border px-4 ${answers.checks[c.check] === fine ? "border-blue bg-tint font-bold" : "border-soft"}`}
                    onClick={() => answer(c.check, fine)}
                  >
                    {fine ? "Yes" : "No"}
                  </button>
                ))}
              </p>
              {answers.checks[c.check] === false && <p className="mt-1 text-sm">{c.lacking}</p>}
            </fieldset>
          ))}
        </fieldset>
      )}
    </div>
  );
}
