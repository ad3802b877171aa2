import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { ask, client, type HallPage, type Handed, type Role } from "../../api/client";
import { useMay } from "../../api/me";
import { Button } from "../../parts/Button";
import { Choice } from "../../parts/Field";
import { Part, PasswordField, text } from "../../parts/forms";
import { HandedOver } from "../../parts/HandedOver";
import { Problem } from "../../parts/Message";
import { Sheet } from "../../parts/Sheet";
import { day } from "../../parts/words";
import { ROLE_NAMES, ROLES } from "./roles";

type Person = HallPage["people"][number];

/** Who is in the hall, and after them who was. An owner sets roles, takes out, hands over, and helps with a password. */
export function People({ page }: { page: HallPage }) {
  const owner = useMay("owner");
  const [open, setOpen] = useState<Person | null>(null);
  return (
    <Part title="People">
      <ul>
        {page.people.map((person) => (
          <li
            key={person.id}
            className="flex min-h-14 items-center justify-between gap-4 border-b border-rule py-1.5"
          >
            <span className={person.left_at ? "text-soft" : ""}>
              <b>{person.name}</b>
              {person.id === page.me && ", you"}
              <span className="block text-sm text-soft">
                {person.left_at
                  ? `left on ${day(person.left_at)}`
                  : [ROLE_NAMES[person.role], person.email].filter(Boolean).join(" · ")}
              </span>
            </span>
            {!person.left_at && (owner || person.id === page.me) && (
              <Button
                className="shrink-0"
                aria-label={`Change: ${person.name}`}
                onClick={() => setOpen(person)}
              >
                {owner ? "Change" : "Leave"}
              </Button>
            )}
          </li>
        ))}
      </ul>
      {open && <PersonSheet person={open} me={page.me} owner={owner} onClose={() => setOpen(null)} />}
    </Part>
  );
}

interface SheetProps {
  person: Person;
  me: string;
  owner: boolean;
  onClose: () => void;
}

function PersonSheet({ person, me, owner, onClose }: SheetProps) {
  const queries = useQueryClient();
  const [error, setError] = useState<unknown>(null);
  const [handed, setHanded] = useState<Handed | null>(null);
  const own = person.id === me;
  const at = { params: { path: { coach: person.id } } };
  const done = async (call: Promise<unknown>, after: () => void) => {
    setError(null);
    try {
      await call;
      await queries.invalidateQueries();
      after();
    } catch (wrong) {
      setError(wrong);
    }
  };
  const setRole = (role: Role) =>
    done(ask(client.POST("/api/hall/people/{coach}/role", { ...at, body: { role } })), onClose);
  const leave = () =>
    own
      ? done(ask(client.POST("/api/hall/leave")), () => window.location.assign("/"))
      : done(ask(client.POST("/api/hall/people/{coach}/take-out", at)), onClose);
  const sure =
    (call: (present: string) => Promise<unknown>, after: () => void) =>
    (event: FormEvent<HTMLFormElement>) => {
      event.preventDefault();
      void done(call(text(new FormData(event.currentTarget), "present")), after);
    };
  return (
    <Sheet open onClose={onClose} title={person.name} about={ROLE_NAMES[person.role]}>
      {error !== null && <Problem error={error} />}
      {owner && (
        <Choice
          legend="What they are here"
          options={ROLES.map(([role, name]) => [role, name] as const)}
          value={person.role}
          onPick={(role) => void setRole(role)}
        />
      )}
      {owner && <RoleWords />}
      {owner && !own && (
        <>
          <h3 className="mb-1 mt-5 text-lg">A new password</h3>
          <p className="mb-2 text-soft">
            A link by which {person.name} chooses one, once, within a day. Every device of theirs is signed
            out then.
          </p>
          {handed ? (
            <HandedOver
              handed={handed}
              title="A new password"
              words={`For ${person.name} alone: whoever opens it first has the sign-in.`}
            />
          ) : (
            <form
              onSubmit={sure(
                async (present) =>
                  setHanded(
                    await ask(client.POST("/api/hall/people/{coach}/reset", { ...at, body: { present } })),
                  ),
                () => undefined,
              )}
            >
              <PasswordField label="Your own password, to be sure" name="present" />
              <Button type="submit">Make the link</Button>
            </form>
          )}
          <h3 className="mb-1 mt-5 text-lg">Hand the hall over</h3>
          <p className="mb-2 text-soft">
            {person.name} becomes the owner, and you a coach. Only they can make you an owner again.
          </p>
          <form
            onSubmit={sure(
              (present) =>
                ask(client.POST("/api/hall/people/{coach}/hand-over", { ...at, body: { present } })),
              onClose,
            )}
          >
            <PasswordField label="Your own password, to be sure" name="present" />
            <Button type="submit" kind="danger">
              Hand it over to {person.name}
            </Button>
          </form>
        </>
      )}
      <h3 className="mb-1 mt-5 text-lg">{own ? "Leave the hall" : "Take out of the hall"}</h3>
      <p className="mb-2 text-soft">
        {own
          ? "You see nothing of it from then on. What you did stays with the hall."
          : `${person.name} sees nothing of the hall from then on. What they did stays.`}
      </p>
      <Button kind="danger" onClick={() => void leave()}>
        {own ? "Leave the hall" : `Take ${person.name} out`}
      </Button>
    </Sheet>
  );
}

/** What each role is for. */
export function RoleWords() {
  return (
    <dl className="text-sm text-soft">
      {ROLES.map(([role, name, words]) => (
        <div key={role} className="flex gap-1.5">
          <dt className="font-bold">{name}</dt>
          <dd>{words}</dd>
        </div>
      ))}
    </dl>
  );
}
