import type { Mode } from "../../api/client";
import type { LiveRun } from "../../live/run";
import { levelName } from "../../live/sheet";
import { Button } from "../../parts/Button";
import { capital, figure } from "../../parts/words";
import type { TryInHand } from "./useTry";

/** A height that no stack makes is made by eye; a distance needs no kit but a tape. */
const byEye = ({ stacks, hand_stacks }: NonNullable<Mode["ladder"]>, level: number) =>
  stacks.length + hand_stacks.length === 0
    ? ""
    : level === 0
      ? "the flat floor"
      : "no stack in the kit makes it";

/** What to set up for this try on a ladder: the setting, the stack that makes it, and what came before. */
export function Setting({ hand, run }: { hand: TryInHand; run: LiveRun }) {
  const { mode, levels, level, place } = hand;
  if (!mode.ladder || level === null) return null;
  const { sheet, inBody } = run.protocol;
  const name = mode.ladder.dial.replaceAll("-", " ");
  const stack = sheet.stacks[levelName(level)];
  const body = inBody[levelName(level)];
  return (
    <div className="my-2 min-w-64 flex-1 border-l-4 border-blue bg-sheet px-4 py-3" data-testid="setting">
      <p className="font-head text-3xl font-bold">
        {capital(name)}: {figure(level, mode)}
      </p>
      <p className="text-lg">{[stack ?? byEye(mode.ladder, level), body].filter(Boolean).join(" · ")}</p>
      {place.step?.say && <p className="text-soft">{place.step.say}</p>}
      {levels.length > 1 && (
        <p className="mt-2 flex flex-wrap gap-2">
          {levels.map((other, n) => (
            <Button
              key={other}
              aria-pressed={other === level}
              className={other === level ? "border-blue bg-tint" : ""}
              onClick={() => hand.chooseLevel(n)}
            >
              {figure(other, mode)}
            </Button>
          ))}
        </p>
      )}
    </div>
  );
}
