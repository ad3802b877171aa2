import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import type { GoalStanding, ScoredRun, TraineePage } from "../../api/client";
import { useTrainee } from "../../api/hooks";
import { TryStrip } from "../../drawings/TryStrip";
import { WallBars } from "../../drawings/WallBars";
import { buttonLook } from "../../parts/Button";
import { For } from "../../parts/For";
import { Message, Problem, Waiting } from "../../parts/Message";
import { day, longDay } from "../../parts/words";
import { Outlines } from "../line/Outlines";
import { DrillSheet } from "./DrillSheet";
import { GoalForm } from "./GoalForm";
import { GoalHead } from "./GoalHead";
import { SchoolsForm } from "./SchoolsForm";
import { TraineeForm } from "./TraineeForm";

type Opened = "details" | "goals" | "schools" | null;

/** One trainee: goal, what to work on, the wall bars, tests. */
export function TraineeScreen() {
  const { id = "" } = useParams();
  const [search, setSearch] = useSearchParams();
  const page = useTrainee(id);
  const [opened, open] = useState<Opened>(null);
  if (page.isPending) return <Waiting />;
  if (!page.data) return <Problem error={page.error} />;
  const { trainee, standing, runs, goals } = page.data;
  const goal = goals.find((g) => g.goal === search.get("goal")) ?? goals.find((g) => !g.reached) ?? goals[0];
  const set = (name: string, value: string | null) => {
    const next = new URLSearchParams(search);
    if (value) next.set(name, value);
    else next.delete(name);
    setSearch(next, { replace: true });
  };
  const pick = (drill: string | null) => set("drill", drill);
  const drill = search.get("drill");
  return (
    <>
      {page.error && <Problem error={page.error} />}
      <p className="mb-4 hidden border-b-4 border-ink pb-1 font-head text-2xl font-bold print:block">
        {trainee.name}, {longDay(new Date())}
      </p>
      {page.data.uncleared.length > 0 && <Uncleared page={page.data} />}
      <div className="mb-2 flex flex-wrap items-start justify-between gap-x-8 gap-y-3">
        <GoalHead
          page={page.data}
          goal={goal}
          onGoal={(name) => set("goal", name)}
          onChoose={() => open("goals")}
        />
        <WorkOn page={page.data} goal={goal} onPick={pick} />
      </div>
      <p className="mb-3 flex flex-wrap gap-x-4 text-sm text-soft [&>*]:inline-flex [&>*]:min-h-6 [&>*]:items-center print:[&>a]:hidden print:[&>button]:hidden">
        <span>
          {[
            trainee.stepping_side && `Steps out to the ${trainee.stepping_side}.`,
            trainee.note,
            ...page.data.distances_said,
            page.data.habits_said,
          ]
            .filter(Boolean)
            .join(" ")}
        </span>
        <For least="coach">
          <button type="button" className="underline" onClick={() => open("details")}>
            Details
          </button>
          <Link to={`/trainees/${id}/intake`} className="underline">
            {page.data.intake_done ? "Intake" : "Intake: not done yet"}
          </Link>
          <Link to={`/trainees/${id}/measures`} className="underline">
            Measures
          </Link>
        </For>{" "}
        {goal && !goal.reached && (
          <Link to={`/trainees/${id}/next`} className="underline">
            The next twelve weeks
          </Link>
        )}
        <For least="coach">
          <button type="button" className="underline" onClick={() => open("schools")}>
            Schools
            {Object.keys(page.data.schools).length > 0 && ` (${Object.keys(page.data.schools).length} own)`}
          </button>
        </For>
      </p>
      <div className="print:[zoom:0.75]">
        <WallBars
          key={`${id} ${goal?.goal}`}
          lines={standing.lines}
          near={goal && !goal.reached ? goal.lines : page.data.first_lines}
          path={new Set([...(goal?.path ?? []), ...(goal?.work_on ?? [])].map((step) => step.drill))}
          shares={page.data.shares}
          onPick={pick}
        />
      </div>
      <div className="mt-3 flex flex-wrap items-end gap-8 border-t border-rule pt-2">
        <LastTests runs={runs} trainee={id} />
        <Link to={`/trainees/${id}/bench`} className={`${buttonLook("act", true)} ml-auto print:hidden`}>
          Test on the Bench
        </Link>
      </div>
      <div className="mt-4">
        <Outlines trainee={id} most={6} heading="Lines" />
      </div>
      {drill && <DrillSheet trainee={id} drill={drill} onClose={() => pick(null)} onPick={pick} />}
      {opened === "details" && <TraineeForm trainee={trainee} onClose={() => open(null)} />}
      {opened === "goals" && <GoalForm page={page.data} onClose={() => open(null)} />}
      {opened === "schools" && <SchoolsForm trainee={id} onClose={() => open(null)} />}
    </>
  );
}

function Uncleared({ page }: { page: TraineePage }) {
  return (
    <Message danger>
      <b>Nothing upside down yet.</b> The intake named:{" "}
      {page.uncleared.map((q) => q.question.replace(/\?$/, "").toLowerCase()).join(", ")}.{" "}
      {page.uncleared[0]?.advice}{" "}
      <Link to={`/trainees/${page.trainee.id}/intake`} className="underline">
        Confirm in the intake
      </Link>
    </Message>
  );
}

interface WorkOnProps {
  page: TraineePage;
  goal: GoalStanding | undefined;
  onPick: (drill: string) => void;
}

/** What to work on as things stand: what the goal asks for today, or without one the next rungs. */
function WorkOn({ page, goal, onPick }: WorkOnProps) {
  const steps =
    goal && !goal.reached
      ? goal.work_on.map((s) => ({ ...s, label: s.kind === "prove" ? "Prove it" : "Work on now" }))
      : page.next_steps;
  const [first, ...others] = steps;
  const behind = rungBehind(page, first?.drill);
  return (
    <section aria-label="What to work on" className="max-w-lg">
      <div className="flex flex-wrap items-start gap-x-7 gap-y-2">
        {first && (
          <Step
            label={first.label}
            title={first.title}
            words={first.sentence}
            now
            onPick={() => onPick(first.drill)}
          />
        )}
        {behind && (
          <Step
            label="Step before, for a poor day"
            title={behind.title}
            words={behind.figure}
            onPick={() => onPick(behind.drill)}
          />
        )}
      </div>
      {others.length > 0 && (
        <p className="mt-2 text-sm text-soft">
          {goal && !goal.reached ? "Also today: " : "Also open: "}
          {others.slice(0, 4).map((step, place) => (
            <span key={step.drill}>
              {place > 0 && ", "}
              <button
                type="button"
                title={step.sentence}
                className="underline"
                onClick={() => onPick(step.drill)}
              >
                {step.title.toLowerCase()}
              </button>
            </span>
          ))}
        </p>
      )}
    </section>
  );
}

interface StepProps {
  label: string;
  title: string;
  words: string;
  now?: boolean;
  onPick: () => void;
}

function Step({ label, title, words, now = false, onPick }: StepProps) {
  return (
    <button
      type="button"
      onClick={onPick}
      className={`w-60 border-l-4 pl-3.5 text-left hover:bg-tint ${now ? "border-blue" : "border-rule max-sm:hidden"}`}
    >
      <span className="block text-sm text-soft">{label}</span>
      <span className="block font-head text-lg font-bold leading-tight">{title}</span>
      <span className="block text-sm">{words}</span>
    </button>
  );
}

/** The rung behind the line on which the first step stands. */
function rungBehind(page: TraineePage, drill: string | undefined) {
  const line = page.standing.lines.find((l) => l.rungs.some((r) => r.some((d) => d.drill === drill)));
  return line?.rungs.flat().find((d) => d.drill === line.behind[0]);
}

function LastTests({ runs, trainee }: { runs: ScoredRun[]; trainee: string }) {
  const shown = runs.filter((r) => r.verdict.n > 0).slice(0, 3);
  if (!shown.length)
    return <p className="py-6 text-soft">No test yet. The Bench says which one comes first.</p>;
  return (
    <ol className="flex min-w-0 grow flex-wrap gap-8">
      {shown.map(({ run, title, mode, line, verdict }, place) => (
        <li key={run.id} className={place === 0 ? "w-96 max-w-full" : "w-72 max-w-full max-lg:hidden"}>
          <p className="text-sm">
            <Link to={`/trainees/${trainee}/bench/${run.id}`} className="underline">
              {title} · {day(run.started_at)}
            </Link>
            <span className="text-soft">
              {" "}
              {run.ended_as === null ? "still open" : verdict.summary}
              {run.ended_as === "pain" && ", stopped for pain"}
            </span>
          </p>
          <TryStrip
            tries={run.tries.filter((t) => !t.struck_at && (!t.mode || t.mode === mode.mode))}
            mode={mode}
            line={line}
            of={Math.max(mode.ladder ? 8 : mode.tries.value, verdict.n)}
            height={92}
            small
            label={`${title} of ${day(run.started_at)}`}
          />
        </li>
      ))}
    </ol>
  );
}
