import type { GoalStanding, TraineePage } from "../../api/client";
import { Button } from "../../parts/Button";
import { For } from "../../parts/For";
import { StandsStill } from "../../parts/StandsStill";

interface Props {
  page: TraineePage;
  goal: GoalStanding | undefined;
  onGoal: (goal: string) => void;
  onChoose: () => void;
}

/** The goal and what holds it back, in one sentence with its figures; without a goal, the way to one. */
export function GoalHead({ page, goal, onGoal, onChoose }: Props) {
  const { trainee, goals } = page;
  if (!goal)
    return (
      <div className="max-w-2xl">
        <h1 className="text-[2.125rem] leading-tight">{trainee.name}</h1>
        <p className="mb-2 text-soft">
          No goal yet. Choose one, and the way to it lights up on the wall bars.
        </p>
        <Button least="coach" kind="act" onClick={onChoose}>
          Choose goals
        </Button>
      </div>
    );
  return (
    <div className="max-w-2xl">
      <p className="flex flex-wrap gap-x-4 gap-y-1 text-sm text-soft">
        <span>Goal</span>
        {goals.map((g) => (
          <button
            key={g.goal}
            type="button"
            aria-pressed={g.goal === goal.goal}
            onClick={() => onGoal(g.goal)}
            className={g.goal === goal.goal ? "font-bold text-ink" : "underline"}
          >
            {g.title}
            {g.reached && " · reached"}
          </button>
        ))}
        <For least="coach">
          <button type="button" className="underline" onClick={onChoose}>
            Change
          </button>
        </For>
      </p>
      <h1 className="text-[2rem] leading-tight">
        <span className="sr-only">{trainee.name}: </span>
        {goal.headline}
      </h1>
      <p className="mt-1">
        {goal.reached ? goal.reached_sentence : goal.because.join(" ")}{" "}
        <span className="text-sm text-soft">{goal.expect}</span>
      </p>
      {goal.stay_the_course && (
        <p className="mt-2 border-l-4 border-wood bg-sheet px-3 py-1.5">{goal.stay_the_course}</p>
      )}
      {page.standing_still
        .filter((still) => goal.path.some((step) => step.drill === still.drill))
        .map((still) => (
          <div key={still.drill} className="mt-2">
            <StandsStill still={still} />
          </div>
        ))}
    </div>
  );
}
