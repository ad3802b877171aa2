import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type HallPage, type Handed, type Role } from "../../api/client";
import { Button } from "../../parts/Button";
import { Choice, Field } from "../../parts/Field";
import { Part, text } from "../../parts/forms";
import { HandedOver } from "../../parts/HandedOver";
import { Problem } from "../../parts/Message";
import { moment } from "../../parts/words";
import { RoleWords } from "./People";
import { AS, ROLES } from "./roles";

/** Invite somebody by a link that works once; those not used yet can be taken back. */
export function Invitations({ page }: { page: HallPage }) {
  const queries = useQueryClient();
  const [role, setRole] = useState<Role>("coach");
  const [handed, setHanded] = useState<Handed | null>(null);
  const [error, setError] = useState<unknown>(null);
  const tried = (call: Promise<unknown>) =>
    call.then(() => setError(null), setError).then(() => queries.invalidateQueries({ queryKey: ["hall"] }));
  const invite = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = event.currentTarget;
    const body = { id: uuidv7(), role, name: text(new FormData(form), "name") };
    void tried(
      ask(client.POST("/api/hall/invitations", { body })).then((made) => {
        setHanded(made);
        form.reset();
      }),
    );
  };
  const revoke = (id: string) =>
    tried(ask(client.POST("/api/hall/invitations/{id}/revoke", { params: { path: { id } } })));
  return (
    <Part title="Invite somebody" about="A link lets one person in, once, within a week.">
      {error !== null && <Problem error={error} />}
      {handed && (
        <HandedOver
          handed={handed}
          title="An invitation into the hall"
          words="Shown this once. Whoever opens it first comes in."
        />
      )}
      <form onSubmit={invite}>
        <Choice
          legend="As what"
          options={ROLES.map(([key, name]) => [key, name] as const)}
          value={role}
          onPick={setRole}
        />
        <RoleWords />
        <div className="mt-4 flex flex-wrap items-end gap-3 [&>div]:mb-0">
          <Field label="For whom, if you like">
            {(id) => <input id={id} name="name" maxLength={120} className="field" />}
          </Field>
          <Button type="submit">Make a link</Button>
        </div>
      </form>
      {page.invitations.length > 0 && (
        <ul className="mt-4" aria-label="Invitations not used yet">
          {page.invitations.map((one) => (
            <li
              key={one.id}
              className="flex min-h-11 items-center justify-between gap-4 border-b border-rule py-1"
            >
              <span>
                {one.name || "Somebody"}, as {AS[one.role]}
                <span className="block text-sm text-soft">
                  by {one.by}, until {moment(one.expires_at)}
                </span>
              </span>
              <Button
                className="shrink-0"
                aria-label={`Take it back: ${one.name || "an invitation"}`}
                onClick={() => void revoke(one.id)}
              >
                Take it back
              </Button>
            </li>
          ))}
        </ul>
      )}
    </Part>
  );
}
