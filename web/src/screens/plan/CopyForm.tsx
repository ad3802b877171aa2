import { useState } from "react";
import type { PlanPage } from "../../api/client";
import { usePlanWeek } from "../../api/hooks";
import { goesOn } from "../../live/useJob";
import { Button } from "../../parts/Button";
import { JobProgress } from "../../parts/JobProgress";
import { Problem } from "../../parts/Message";
import { Sheet } from "../../parts/Sheet";
import { wishOf } from "./edits";
import { usePlanMany } from "./many";

/** The same days and places for others, each with their own drills and doses. */
export function CopyForm({ page, onClose }: { page: PlanPage; onClose: () => void }) {
  const everybody = usePlanWeek(page.week).data ?? [];
  const [who, setWho] = useState<string[]>([]);
  const many = usePlanMany(false);
  const others = everybody.filter((x) => x.trainee.id !== page.trainee.id);
  const flip = (id: string) => setWho(who.includes(id) ? who.filter((w) => w !== id) : [...who, id]);
  const chosen = others.filter((x) => who.includes(x.trainee.id)).map((x) => x.trainee);
  return (
    <Sheet
      open
      onClose={onClose}
      title="Copy to others"
      about="The days, places and minutes go along. Drills, doses and settings are each trainee's own. An earlier plan of the week stays as a version."
    >
      <ul className="mb-3 max-h-80 overflow-y-auto">
        {others.map(({ trainee, kept }) => (
          <li key={trainee.id}>
            <label className="flex min-h-11 items-center gap-3 border-b border-rule">
              <input
                type="checkbox"
                className="h-6 w-6 accent-blue"
                checked={who.includes(trainee.id)}
                onChange={() => flip(trainee.id)}
              />
              <span className="grow">{trainee.name}</span>
              {kept && <span className="text-sm text-soft">planned already</span>}
            </label>
          </li>
        ))}
      </ul>
      {many.error !== undefined && <Problem error={many.error} />}
      <JobProgress job={many.job} doing="Planning" done="planned" onStop={many.stop} />
      <Button
        kind="act"
        live
        disabled={!chosen.length || goesOn(many.job)}
        onClick={() => void many.run(chosen, page.week, wishOf(page))}
      >
        Copy to {chosen.length}
      </Button>
    </Sheet>
  );
}
