import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import type { ScoredRun, TraineePage } from "../../api/client";
import { useTrainee } from "../../api/hooks";
import { TryStrip } from "../../drawings/TryStrip";
import { WallBars } from "../../drawings/WallBars";
import { buttonLook } from "../../parts/Button";
import { Problem, Waiting } from "../../parts/Message";
import { day } from "../../parts/words";
import { DrillSheet } from "./DrillSheet";
import { TraineeForm } from "./TraineeForm";

export function TraineeScreen() {
  const { id = "" } = useParams();
  const [search, setSearch] = useSearchParams();
  const page = useTrainee(id);
  const [changing, change] = useState(false);
  if (page.isPending) return <Waiting />;
  if (!page.data) return <Problem error={page.error} />;
  const { trainee, standing, runs } = page.data;
  const drill = search.get("drill");
  const pick = (name: string | null) => setSearch(name ? { drill: name } : {}, { replace: true });
  return (
    <>
      {page.error && <Problem error={page.error} />}
      <div className="mb-3 flex flex-wrap items-start justify-between gap-x-8 gap-y-3">
        <div className="max-w-2xl">
          <h1 className="text-[2.125rem] leading-tight">{trainee.name}</h1>
          <p className="text-soft">
            {[trainee.stepping_side && `Steps out to the ${trainee.stepping_side}.`, trainee.note]
              .filter(Boolean)
              .join(" ")}{" "}
            <button type="button" className="underline" onClick={() => change(true)}>
              Change
            </button>
          </p>
        </div>
        <NextRungs page={page.data} onPick={pick} />
      </div>
      <WallBars lines={standing.lines} onPick={pick} />
      <div className="mt-3 flex flex-wrap items-end gap-8 border-t border-rule pt-2">
        <LastTests runs={runs} trainee={id} />
        <Link to={`/trainees/${id}/bench`} className={`${buttonLook("act", true)} ml-auto`}>
          Test ten free tries
        </Link>
      </div>
      {drill && <DrillSheet trainee={id} drill={drill} onClose={() => pick(null)} onPick={pick} />}
      {changing && <TraineeForm trainee={trainee} onClose={() => change(false)} />}
    </>
  );
}

/** What to work on as things stand: the next rungs, or what the closed ones wait for. */
function NextRungs({ page, onPick }: { page: TraineePage; onPick: (drill: string) => void }) {
  return (
    <section aria-label="What to work on" className="flex flex-wrap gap-x-7 gap-y-2">
      {page.next_steps.slice(0, 3).map((step, place) => (
        <button
          key={step.drill}
          type="button"
          onClick={() => onPick(step.drill)}
          className={`border-l-4 pl-3.5 text-left hover:bg-tint ${place === 0 ? "border-blue" : "border-rule"}`}
        >
          <span className="block text-sm text-soft">{step.label}</span>
          <span className="block font-head text-lg font-bold leading-tight">{step.title}</span>
          <span className="block max-w-60 text-sm">{step.sentence}</span>
        </button>
      ))}
    </section>
  );
}

function LastTests({ runs, trainee }: { runs: ScoredRun[]; trainee: string }) {
  const shown = runs.filter((r) => r.score.n > 0).slice(0, 3);
  if (!shown.length)
    return (
      <p className="py-6 text-soft">
        No free tries yet. Once the free exit is proven, ten of them show the way.
      </p>
    );
  return (
    <ol className="flex grow flex-wrap gap-8">
      {shown.map(({ run, score }, place) => (
        <li key={run.id} className={place === 0 ? "w-96 max-w-full" : "w-72 max-w-full max-lg:hidden"}>
          <p className="text-sm">
            <Link to={`/trainees/${trainee}/bench/${run.id}`} className="underline">
              {place === 0 ? `Ten free tries · ${day(run.started_at)}` : day(run.started_at)}
            </Link>
            <span className="text-soft">
              {" "}
              {run.ended_as === null ? "still open" : `held ${score.held} of ${score.n}`}
              {run.ended_as === "pain" && ", stopped for pain"}
            </span>
          </p>
          <TryStrip
            tries={run.tries.filter((t) => !t.struck_at)}
            of={Math.max(10, score.n)}
            height={92}
            small
            label={`Free tries of ${day(run.started_at)}`}
          />
        </li>
      ))}
    </ol>
  );
}
