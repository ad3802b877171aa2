import { useState } from "react";
import { ask, client, type EvidencePlan, Failure, type ImportPlan } from "../../api/client";
import { Button, buttonLook } from "../../parts/Button";
import { Message, Problem } from "../../parts/Message";
import { asForm, useLookedAt } from "./useLookedAt";
import { WholeHall } from "./WholeHall";

/** What a file would do, whatever it holds. */
interface Looked extends Pick<EvidencePlan, "new_trainees" | "already_kept" | "problems" | "note" | "kept"> {
  /** What it would add, in words, and how much of it. */
  what: string;
  adds: number;
}

const ofMany = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`;

type Path = "/api/tries.csv" | "/api/evidence.csv";
const WORDS: Record<Path, (plan: ImportPlan | EvidencePlan) => Looked> = {
  "/api/tries.csv": (plan) => {
    const { tries, runs } = plan as ImportPlan;
    return {
      ...plan,
      what: `${ofMany(tries, "try", "tries")} in ${ofMany(runs, "run", "runs")}`,
      adds: tries,
    };
  },
  "/api/evidence.csv": (plan) => {
    const { pieces } = plan as EvidencePlan;
    return { ...plan, what: ofMany(pieces, "piece of evidence", "pieces of evidence"), adds: pieces };
  },
};

/** Evidence and tries out as CSV and in again: looked at first, then all of it or nothing. */
export function Files() {
  return (
    <div>
      <h1 className="mb-4 text-[2.125rem] leading-tight">Files</h1>
      <WholeHall />
      <div className="grid gap-x-14 gap-y-8 lg:grid-cols-2">
        <Exchange
          path="/api/evidence.csv"
          title="Evidence"
          about="Everything that fills a gate, of every trainee: recorded sets, and what test runs say about drills."
          columns="trainee, day, drill, measure, value, n, mode, window_s, dial, dial_value, form, side, confidence, source, note"
        />
        <Exchange
          path="/api/tries.csv"
          title="Tests"
          about="Every try that counts, of every test run that was ended."
          columns="trainee, test, started_at, try, outcome, seconds, fell, form, note, and where a test fills them drill, mode, value, setting, side, dial, dial_value, confidence"
        />
      </div>
    </div>
  );
}

interface ExchangeProps {
  path: Path;
  title: string;
  about: string;
  columns: string;
}

function Exchange({ path, title, about, columns }: ExchangeProps) {
  const { plan, error, busy, choose, keep } = useLookedAt(async (file, kept) => {
    // keeping new trainees is only offered once the coach has said that their intake follows
    const query = { keep: kept, intake_follows: kept };
    const call = client.POST(path, { params: { query }, ...asForm(file) });
    return WORDS[path](await ask<ImportPlan | EvidencePlan>(call));
  });
  return (
    <section aria-label={title}>
      <h2 className="border-b border-rule text-xl">{title}</h2>
      <p className="mb-3 mt-1 text-soft">{about}</p>
      <div className="flex flex-wrap gap-3">
        <a href={path} download className={buttonLook("plain")}>
          Save the CSV
        </a>
        <a href={`${path}?semicolons=true`} download className={buttonLook("plain")}>
          With semicolons and decimal commas
        </a>
      </div>
      <p className="mb-3 mt-5 text-soft">
        In again with the columns {columns}. Nothing is kept before you have seen what would happen.
      </p>
      <label className="mb-3 block">
        <span className="mb-1 block font-bold">CSV file</span>
        <input
          type="file"
          accept=".csv,text/csv"
          onChange={choose}
          className="block w-full max-w-lg rounded-md border border-soft bg-sheet p-2 file:mr-3 file:rounded file:border file:border-ink file:bg-paper file:px-3 file:py-2 file:font-bold"
        />
      </label>
      {busy && <p role="status">Reading the file …</p>}
      {error !== undefined && (
        <>
          <Problem error={error} />
          {error instanceof Failure && (
            <Problems lines={error.problems.map((p) => `${p.where}: ${p.what}`)} />
          )}
        </>
      )}
      {plan && <Plan plan={plan} busy={busy} onKeep={keep} />}
    </section>
  );
}

function Plan({ plan, busy, onKeep }: { plan: Looked; busy: boolean; onKeep: () => void }) {
  const { what } = plan;
  const [known, setKnown] = useState(false);
  const again = plan.already_kept ? ` ${plan.already_kept} were kept before and stay as they are.` : "";
  if (plan.kept)
    return (
      <Message>
        <strong>Kept: {what}.</strong>
        {again}
      </Message>
    );
  return (
    <section aria-label="What the file would do" className="mt-4">
      {plan.note && <Message>{plan.note}</Message>}
      {plan.problems.length > 0 ? (
        <>
          <Message danger>
            {plan.problems.length} {plan.problems.length === 1 ? "line" : "lines"} cannot be read, so nothing
            will be kept. Mend the file and choose it again.
          </Message>
          <Problems lines={plan.problems.map((p) => `line ${p.line}: ${p.what}`)} />
        </>
      ) : (
        <>
          <p className="mb-1 text-lg">
            The file would add <strong>{what}</strong>.{again}
          </p>
          {plan.new_trainees.length > 0 && (
            <NewOnes names={plan.new_trainees} known={known} onKnown={setKnown} />
          )}
          {plan.adds > 0 && (
            <Button
              kind="act"
              disabled={busy || (plan.new_trainees.length > 0 && !known)}
              onClick={onKeep}
              className="mt-3"
            >
              Keep all of it
            </Button>
          )}
        </>
      )}
    </section>
  );
}

interface NewOnesProps {
  names: string[];
  known: boolean;
  onKnown: (known: boolean) => void;
}

/** A CSV holds no cautions: whoever comes by one has to be asked before anything upside down. */
function NewOnes({ names, known, onKnown }: NewOnesProps) {
  return (
    <Message danger>
      <p>New trainees: {names.join(", ")}.</p>
      <p>
        A CSV holds no intake: no cautions, no clearance, no pain. Somebody who was not cleared elsewhere
        would be planned for as if nothing stood in the way. Take the archive in instead, or do their intake
        before anything upside down.
      </p>
      <label className="mt-2 flex min-h-11 cursor-pointer items-center gap-3 font-bold">
        <input
          type="checkbox"
          className="size-5 accent-blue"
          checked={known}
          onChange={(event) => onKnown(event.target.checked)}
        />
        I do their intake before anything upside down
      </label>
    </Message>
  );
}

function Problems({ lines }: { lines: string[] }) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a list that scrolls must be reachable by keyboard
    <ul tabIndex={0} aria-label="Problems by line" className="max-h-80 list-disc overflow-y-auto pl-6">
      {lines.slice(0, 200).map((line) => (
        <li key={line}>{line}</li>
      ))}
      {lines.length > 200 && <li>and {lines.length - 200} more</li>}
    </ul>
  );
}
