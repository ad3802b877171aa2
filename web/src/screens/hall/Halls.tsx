import { useState } from "react";
import { v7 as uuidv7 } from "uuid";
import { ask, type Coach, client } from "../../api/client";
import { signOut } from "../../live/signOut";
import { Button } from "../../parts/Button";
import { Field } from "../../parts/Field";
import { Part, text, useSent } from "../../parts/forms";
import { Message, Problem } from "../../parts/Message";
import { ROLE_NAMES } from "./roles";

/** Go to another hall: the page begins anew, so that nothing of the one shows in the other. */
function useChoose() {
  const [error, setError] = useState<unknown>(null);
  const choose = (hall: string) =>
    ask(client.POST("/api/hall/choose", { body: { hall } })).then(
      () => window.location.assign("/"),
      setError,
    );
  return { error, choose };
}

/** The halls one is in, to go from one to the other, and to begin another. */
export function Halls({ me }: { me: Coach }) {
  const { error, choose } = useChoose();
  const { said, submit } = useSent(async (form) => {
    const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
    await ask(
      client.POST("/api/hall/new", { body: { id: uuidv7(), name: text(form, "name"), time_zone: zone } }),
    );
    window.location.assign("/");
  }, "Begun.");
  return (
    <Part
      title="Your halls"
      about="Each has its own people, kit and syllabus. Schools are yours in all of them."
    >
      {error !== null && <Problem error={error} />}
      <HallList me={me} onChoose={(id) => void choose(id)} />
      {said}
      <form onSubmit={submit} className="mt-3 flex flex-wrap items-end gap-3 [&>div]:mb-0">
        <Field label="Another hall of your own">
          {(id) => <input id={id} name="name" required maxLength={120} className="field" />}
        </Field>
        <Button type="submit">Begin it</Button>
      </form>
    </Part>
  );
}

function HallList({ me, onChoose }: { me: Coach; onChoose: (id: string) => void }) {
  return (
    <ul>
      {me.halls.map((hall) => (
        <li
          key={hall.id}
          className="flex min-h-14 items-center justify-between gap-4 border-b border-rule py-1.5"
        >
          <span>
            <b>{hall.name}</b>
            <span className="block text-sm text-soft">
              {ROLE_NAMES[hall.role]}
              {hall.id === me.hall?.id && ", open here"}
            </span>
          </span>
          {hall.id !== me.hall?.id && (
            <Button className="shrink-0" onClick={() => onChoose(hall.id)} aria-label={`Open: ${hall.name}`}>
              Open
            </Button>
          )}
        </li>
      ))}
    </ul>
  );
}

/** Somebody in several halls chooses one; somebody in none is told how to come into one. */
export function ChooseHall({ me }: { me: Coach }) {
  const { error, choose } = useChoose();
  return (
    <main id="main" className="mx-auto max-w-md p-6 pt-16">
      <h1 className="mb-3 text-3xl">{me.halls.length ? "Which hall?" : "No hall yet"}</h1>
      {error !== null && <Problem error={error} />}
      {me.halls.length > 0 ? (
        <HallList me={me} onChoose={(id) => void choose(id)} />
      ) : (
        <>
          <Message>You are in no hall. Ask an owner for an invitation, or begin a hall of your own.</Message>
          <Halls me={me} />
        </>
      )}
      <Button kind="quiet" className="mt-6" onClick={() => void signOut(false)}>
        Sign out
      </Button>
    </main>
  );
}
