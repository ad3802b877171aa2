import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client } from "../../api/client";
import { useSchools } from "../../api/hooks";
import { Button } from "../../parts/Button";
import { Problem, Waiting } from "../../parts/Message";
import { Sheet } from "../../parts/Sheet";
import { BeforeAChange } from "./BeforeAChange";

/** Where practitioners disagree: the coach's way, and exceptions for this trainee. */
export function SchoolsForm({ trainee, onClose }: { trainee: string; onClose: () => void }) {
  const page = useSchools(trainee);
  const queries = useQueryClient();
  const [own, setOwn] = useState<Record<string, string>>();
  const [error, setError] = useState<unknown>();
  const exceptions = own ?? page.data?.trainee ?? {};
  const save = async () => {
    try {
      const params = { path: { id: trainee } };
      await ask(client.PUT("/api/trainees/{id}/schools", { params, body: { schools: exceptions } }));
      await queries.invalidateQueries();
      onClose();
    } catch (failure) {
      setError(failure);
    }
  };
  const pick = (question: string, school: string) => {
    const { [question]: _, ...rest } = exceptions;
    setOwn(school ? { ...rest, [question]: school } : rest);
  };
  return (
    <Sheet
      open
      side
      onClose={onClose}
      title="Schools"
      about="Where practitioners disagree. Your own way holds for everybody. Set an exception for this trainee here."
    >
      <BeforeAChange trainee={trainee} />
      {page.isPending && <Waiting />}
      {(error ?? page.error) && <Problem error={error ?? page.error} />}
      {page.data?.questions.map((q) => {
        const mine = q.schools.find((s) => s.school === page.data.coach[q.question]) ?? q.schools[0];
        return (
          <label key={q.question} className="mb-4 block">
            <span className="mb-1 block font-bold">{q.title}</span>
            <select
              className="field"
              value={exceptions[q.question] ?? ""}
              onChange={(event) => pick(q.question, event.target.value)}
            >
              <option value="">As for everybody: {mine?.title}</option>
              {q.schools.map((s) => (
                <option key={s.school} value={s.school}>
                  {s.title}
                </option>
              ))}
            </select>
          </label>
        );
      })}
      <Button kind="act" onClick={() => void save()}>
        Keep
      </Button>
    </Sheet>
  );
}
