import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type Trainee } from "../../api/client";
import { Button } from "../../parts/Button";
import { Choice, Field, TextField } from "../../parts/Field";
import { Problem } from "../../parts/Message";
import { Sheet } from "../../parts/Sheet";

const SIDES = [
  ["left", "left"],
  ["right", "right"],
] as const;

type Contact = { contact: string; guardian: string; consent_day: string | null };

const contactOf = (form: FormData): Contact => ({
  contact: String(form.get("contact")),
  guardian: String(form.get("guardian")),
  consent_day: String(form.get("consent_day")) || null,
});

/** Whom to call; for a minor the guardian, and the day they agreed. */
function ContactFields({ contact }: { contact: Contact }) {
  return (
    <>
      <TextField
        label="Contact"
        name="contact"
        hint="Seen by coaches alone."
        most={2000}
        value={contact.contact}
      />
      <TextField label="Guardian, for a minor" name="guardian" most={2000} value={contact.guardian} />
      <Field label="The guardian agreed on" hint="Minors need it before anything else.">
        {(field) => (
          <input
            id={field}
            name="consent_day"
            type="date"
            className="field w-auto"
            defaultValue={contact.consent_day ?? ""}
          />
        )}
      </Field>
    </>
  );
}

/** Add a trainee, or change one. */
export function TraineeForm({ trainee, onClose }: { trainee?: Trainee; onClose: () => void }) {
  const queries = useQueryClient();
  const go = useNavigate();
  const [id] = useState(() => trainee?.id ?? uuidv7());
  const [side, pickSide] = useState<"left" | "right" | "">(trainee?.stepping_side ?? "");
  const [error, setError] = useState<unknown>();
  const at = { params: { path: { id } } };
  const contact = useQuery({
    queryKey: ["contact", id],
    enabled: trainee !== undefined,
    refetchOnMount: "always",
    queryFn: () => ask(client.GET("/api/trainees/{id}/contact", at)),
  });
  const save = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const details = {
      name: String(form.get("name")),
      note: String(form.get("note")),
      stepping_side: side || null,
    };
    try {
      if (trainee) {
        await ask(client.PUT("/api/trainees/{id}", { params: { path: { id } }, body: details }));
        if (contact.data)
          await ask(client.PUT("/api/trainees/{id}/contact", { ...at, body: contactOf(form) }));
      } else await ask(client.POST("/api/trainees", { body: { id, ...details } }));
      await queries.invalidateQueries();
      onClose();
      if (!trainee) go(`/trainees/${id}/intake`);
    } catch (failure) {
      setError(failure);
    }
  };
  const putAway = async () => {
    try {
      await ask(client.POST("/api/trainees/{id}/put-away", { params: { path: { id } } }));
      for (const key of ["today", "away"]) await queries.invalidateQueries({ queryKey: [key] });
      sessionStorage.removeItem("perch.trainee");
      go("/account");
    } catch (failure) {
      setError(failure);
    }
  };
  return (
    <Sheet open onClose={onClose} title={trainee ? `Change ${trainee.name}` : "Add a trainee"}>
      <form onSubmit={(event) => void save(event)}>
        {error !== undefined && <Problem error={error} />}
        <TextField label="Name" name="name" required value={trainee?.name} />
        <Choice legend="Stepping side of the exit" options={SIDES} value={side} onPick={pickSide} />
        <Field label="Note" hint="What works, what to mind.">
          {(field) => (
            <textarea
              id={field}
              name="note"
              rows={3}
              maxLength={2000}
              className="field"
              defaultValue={trainee?.note}
            />
          )}
        </Field>
        {trainee && contact.data && <ContactFields contact={contact.data} />}
        <div className="flex flex-wrap justify-between gap-3">
          <Button type="submit" kind="act">
            Keep
          </Button>
          {trainee && <Button onClick={() => void putAway()}>Put away: they left</Button>}
        </div>
      </form>
    </Sheet>
  );
}
