import { useState } from "react";
import { Link } from "react-router";
import type { Edit, SyllabusPage, SyllabusTrial } from "../../api/client";
import { useLevers, useToday } from "../../api/hooks";
import { Button } from "../../parts/Button";
import { Field } from "../../parts/Field";
import { Problem } from "../../parts/Message";
import { capital, count } from "../../parts/words";

interface Props {
  edits: string[];
  trial: SyllabusTrial | undefined;
  effects: SyllabusTrial["effects"] | undefined;
  failure: unknown;
  waiting: boolean;
  gaps: SyllabusPage["gaps"];
  onEdit: (edit: Edit) => void;
  onPick: (drill: string) => void;
}

/** What the checks say of the edits, what they change for whom, and where rungs lie too far apart. */
export function CheckPanel({ edits, trial, effects, failure, waiting, gaps, onEdit, onPick }: Props) {
  return (
    <div aria-live="polite">
      {edits.length > 0 && (
        <section className="mb-5">
          <h2 className="text-lg">Edits</h2>
          <ol className="list-decimal pl-5">
            {edits.map((words, place) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: the list only grows and shrinks at its end
              <li key={place}>{words}</li>
            ))}
          </ol>
          {failure ? <Problem error={failure} /> : null}
          {waiting && <p className="mt-2 text-soft">Checking …</p>}
          {!waiting &&
            trial &&
            (trial.problems.length ? <Faults trial={trial} /> : <Effects effects={effects} />)}
        </section>
      )}
      <Gaps gaps={gaps} onEdit={onEdit} onPick={onPick} />
    </div>
  );
}

function Faults({ trial }: { trial: SyllabusTrial }) {
  const n = trial.problems.length;
  return (
    <div role="alert" className="mt-3 border-l-4 border-brick bg-sheet px-4 py-3">
      <p className="font-bold text-brick">
        {n === 1 ? "One check fails" : `${capital(count(n))} checks fail`}: it cannot be kept so.
      </p>
      <ul className="mt-1">
        {trial.problems.map((p) => (
          <li key={`${p.line} ${p.what}`} className="mb-2">
            {p.what}
            <span className="block text-sm text-soft">
              line {p.line}: <code>{trial.excerpts[p.line]}</code>
            </span>
          </li>
        ))}
      </ul>
    </div>
  );
}

function Effects({ effects }: { effects: SyllabusTrial["effects"] | undefined }) {
  if (!effects) return <p className="mt-2">All checks pass. Looking whom it changes …</p>;
  if (!effects.length) return <p className="mt-2">All checks pass. It changes where nobody stands today.</p>;
  return (
    <div className="mt-3">
      <p className="font-bold">
        All checks pass. It changes the wall bars of {count(effects.length)}{" "}
        {effects.length === 1 ? "trainee" : "trainees"}:
      </p>
      <ul>
        {effects.map((who) => (
          <li key={who.trainee} className="mt-2">
            <details open={effects.length < 4}>
              <summary className="cursor-pointer">
                <b>{who.name}</b> · {who.changes.length} {who.changes.length === 1 ? "change" : "changes"}
              </summary>
              <ul className="list-disc pl-5 text-sm">
                {who.changes.map((change) => (
                  <li key={change.sentence}>{change.sentence}</li>
                ))}
              </ul>
            </details>
          </li>
        ))}
      </ul>
    </div>
  );
}

interface GapsProps {
  gaps: SyllabusPage["gaps"];
  onEdit: (edit: Edit) => void;
  onPick: (drill: string) => void;
}

function Gaps({ gaps, onEdit, onPick }: GapsProps) {
  return (
    <section>
      <h2 className="text-lg">Gaps</h2>
      {gaps.length === 0 && <p className="text-soft">No neighbours lie too far apart.</p>}
      <ul>
        {gaps.map((gap) => (
          <li key={`${gap.lower} ${gap.upper}`} className="mb-3 border-l-4 border-wood pl-3">
            <p>{gap.sentence}</p>
            <div className="mt-1 flex flex-wrap gap-3">
              <Button
                onClick={() =>
                  onEdit({
                    drill: gap.proposal.drill,
                    insert: gap.proposal,
                    line: gap.line,
                    place: gap.place,
                  })
                }
              >
                Put it in
              </Button>
              <button type="button" className="underline" onClick={() => onPick(gap.upper)}>
                Look at the upper one
              </button>
            </div>
          </li>
        ))}
      </ul>
      <JumpsOf onPick={onPick} />
    </section>
  );
}

/** What lies between drills for one trainee: by what each puts on their own hands. */
function JumpsOf({ onPick }: { onPick: (drill: string) => void }) {
  const [id, setId] = useState("");
  const everybody = useToday();
  const levers = useLevers(id, id !== "");
  return (
    <div className="mt-4">
      <Field label="Jumps in share for" hint="Worked out from a trainee's own size, at the settings in use.">
        {(field) => (
          <select id={field} className="field" value={id} onChange={(event) => setId(event.target.value)}>
            <option value="">nobody yet</option>
            {everybody.data?.map((t) => (
              <option key={t.id} value={t.id}>
                {t.name}
              </option>
            ))}
          </select>
        )}
      </Field>
      {levers.data && levers.data.size.stature_cm === null && (
        <p className="text-soft">
          No stature yet:{" "}
          <Link to={`/trainees/${id}/measures`} className="underline">
            Measures
          </Link>
          .
        </p>
      )}
      {levers.data && levers.data.size.stature_cm !== null && levers.data.jumps.length === 0 && (
        <p className="text-soft">No jump too large.</p>
      )}
      <ul>
        {levers.data?.jumps.map((jump) => (
          <li key={jump.lower + jump.upper} className="mb-3 border-l-4 border-wood pl-3">
            <p>{jump.sentence}</p>
            {jump.between.length > 0 && (
              <p className="text-sm text-soft">
                In between:{" "}
                {jump.between.map((b) => `${b.words} (${Math.round(b.share * 100)} %)`).join("; ")}.
              </p>
            )}
            <p className="flex gap-3">
              <button type="button" className="underline" onClick={() => onPick(jump.upper)}>
                Look at the upper one
              </button>
              <Link to={`/trainees/${id}/levers?drill=${jump.lower}`} className="underline">
                Set up the lower one
              </Link>
            </p>
          </li>
        ))}
      </ul>
    </div>
  );
}
