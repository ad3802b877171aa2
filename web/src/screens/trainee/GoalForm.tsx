import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type TraineePage } from "../../api/client";
import { Button } from "../../parts/Button";
import { Problem } from "../../parts/Message";
import { Sheet } from "../../parts/Sheet";
import { BeforeAChange } from "./BeforeAChange";

/** Choose what to train for; the first one chosen leads. */
export function GoalForm({ page, onClose }: { page: TraineePage; onClose: () => void }) {
  const queries = useQueryClient();
  const [chosen, choose] = useState(page.goals.map((g) => g.goal));
  const [error, setError] = useState<unknown>();
  const toggle = (goal: string) =>
    choose(chosen.includes(goal) ? chosen.filter((g) => g !== goal) : [...chosen, goal]);
  const save = async () => {
    try {
      const path = { id: page.trainee.id };
      await ask(client.PUT("/api/trainees/{id}/goals", { params: { path }, body: { goals: chosen } }));
      await queries.invalidateQueries();
      onClose();
    } catch (failure) {
      setError(failure);
    }
  };
  return (
    <Sheet open onClose={onClose} title="Goals" about="The first one chosen leads. The others run beside it.">
      <BeforeAChange trainee={page.trainee.id} />
      {error !== undefined && <Problem error={error} />}
      <ul className="mb-4">
        {page.goals_to_choose.map((g) => {
          const place = chosen.indexOf(g.goal);
          return (
            <li key={g.goal}>
              <label className="flex min-h-11 cursor-pointer items-center gap-3 border-b border-rule">
                <input
                  type="checkbox"
                  className="h-5 w-5 accent-blue"
                  checked={place >= 0}
                  onChange={() => toggle(g.goal)}
                />
                <span className="grow">{g.title}</span>
                {place >= 0 && <span className="text-sm text-soft">{place === 0 ? "leads" : "beside"}</span>}
              </label>
            </li>
          );
        })}
      </ul>
      <Button kind="act" onClick={() => void save()}>
        Keep
      </Button>
    </Sheet>
  );
}
