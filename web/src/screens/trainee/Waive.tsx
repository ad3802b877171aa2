import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type DrillPage } from "../../api/client";
import { Button } from "../../parts/Button";
import { Field } from "../../parts/Field";
import { Problem } from "../../parts/Message";
import { day } from "../../parts/words";

/** Let a gate pass with a reason, or take that back. The waiver stays on record either way. */
export function Waive({ trainee, page }: { trainee: string; page: DrillPage }) {
  const queries = useQueryClient();
  const [asking, ask_] = useState(false);
  const [error, setError] = useState<unknown>();
  const [id] = useState(() => uuidv7());
  const send = async (call: () => Promise<unknown>) => {
    try {
      await call();
      await queries.invalidateQueries();
      ask_(false);
      setError(undefined);
    } catch (failure) {
      setError(failure);
    }
  };
  const { waiver, drill } = page;
  if (waiver)
    return (
      <section className="my-4 border-l-4 border-wood bg-sheet px-4 py-3">
        <p>
          Waived on {day(waiver.day)}: {waiver.reason}. It counts as met, never as proven.
        </p>
        {error !== undefined && <Problem error={error} />}
        <Button
          className="mt-2"
          onClick={() =>
            void send(() =>
              ask(client.POST("/api/waivers/{id}/take-back", { params: { path: { id: waiver.id } } })),
            )
          }
        >
          Take the waiver back
        </Button>
      </section>
    );
  if (page.standing.state !== "not yet" && page.standing.state !== "stale") return null;
  if (!asking)
    return (
      <button type="button" className="my-3 text-soft underline" onClick={() => ask_(true)}>
        Waive this gate
      </button>
    );
  const keep = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const reason = String(new FormData(event.currentTarget).get("reason"));
    const params = { path: { id: trainee } };
    const body = { id, at: new Date().toISOString(), drill: drill.drill, reason };
    void send(() => ask(client.POST("/api/trainees/{id}/waivers", { params, body })));
  };
  return (
    <form onSubmit={keep} className="my-4 border-l-4 border-wood bg-sheet px-4 py-3">
      {error !== undefined && <Problem error={error} />}
      <Field
        label="Why may it pass?"
        hint="It then counts as met, never as proven: drills away from the wall or with the head near the floor still wait."
      >
        {(field) => <input id={field} name="reason" required maxLength={120} className="field" />}
      </Field>
      <Button type="submit" kind="act">
        Waive the gate
      </Button>
    </form>
  );
}
