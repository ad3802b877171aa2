import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { ask, client } from "../../api/client";
import { useDoor } from "../../api/hooks";
import { Button } from "../../parts/Button";
import { Field } from "../../parts/Field";
import { Message, Problem, Waiting } from "../../parts/Message";

/** Sign-in, or, in an empty installation, the first coach. */
export function Door() {
  const door = useDoor();
  if (door.isPending) return <Waiting />;
  return (
    <main className="mx-auto flex min-h-screen max-w-md flex-col justify-center p-6">
      <p className="mb-6 border-b-[6px] border-wood pb-3 font-head text-2xl font-bold shadow-[0_2px_0_var(--darkwood)]">
        Wise Perch
      </p>
      {door.error ? (
        <Problem error={door.error} />
      ) : door.data?.needs_first_coach ? (
        <FirstCoach />
      ) : (
        <SignIn demo={door.data} />
      )}
    </main>
  );
}

const text = (form: FormData, name: string) => String(form.get(name) ?? "");

function useSubmit(send: (form: FormData) => Promise<unknown>) {
  const queries = useQueryClient();
  const [error, setError] = useState<unknown>();
  const [busy, setBusy] = useState(false);
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    setBusy(true);
    setError(undefined);
    send(new FormData(event.currentTarget))
      .then(() => queries.resetQueries(), setError)
      .finally(() => setBusy(false));
  };
  return { submit, error, busy };
}

interface Demo {
  demo_email: string | null;
  demo_password: string | null;
}

function SignIn({ demo }: { demo: Demo | undefined }) {
  const { submit, error, busy } = useSubmit((form) =>
    ask(
      client.POST("/api/sign-in", { body: { email: text(form, "email"), password: text(form, "password") } }),
    ),
  );
  return (
    <form onSubmit={submit}>
      <h1 className="mb-4 text-3xl">Sign in</h1>
      {error !== undefined && <Problem error={error} />}
      <Field label="Email">
        {(id) => (
          <input
            id={id}
            name="email"
            type="email"
            autoComplete="username"
            required
            className="field"
            defaultValue={demo?.demo_email ?? ""}
          />
        )}
      </Field>
      <Field label="Password">
        {(id) => (
          <input
            id={id}
            name="password"
            type="password"
            autoComplete="current-password"
            required
            className="field"
          />
        )}
      </Field>
      <Button type="submit" kind="act" disabled={busy} className="w-full">
        Sign in
      </Button>
      {demo?.demo_password && (
        <Message>
          This is the demo; its hall and people are made up. The password is{" "}
          <strong>{demo.demo_password}</strong>.
        </Message>
      )}
    </form>
  );
}

function FirstCoach() {
  const { submit, error, busy } = useSubmit((form) =>
    ask(
      client.POST("/api/first-coach", {
        body: {
          email: text(form, "email"),
          name: text(form, "name"),
          hall: text(form, "hall"),
          password: text(form, "password"),
          time_zone: Intl.DateTimeFormat().resolvedOptions().timeZone,
        },
      }),
    ),
  );
  return (
    <form onSubmit={submit}>
      <h1 className="mb-1 text-3xl">The first coach</h1>
      <p className="mb-4 text-soft">Nobody coaches here yet. Who are you, and what is the hall called?</p>
      {error !== undefined && <Problem error={error} />}
      <Field label="Name">
        {(id) => <input id={id} name="name" autoComplete="name" required maxLength={120} className="field" />}
      </Field>
      <Field label="The hall">
        {(id) => (
          <input id={id} name="hall" autoComplete="organization" required maxLength={120} className="field" />
        )}
      </Field>
      <Field label="Email">
        {(id) => (
          <input id={id} name="email" type="email" autoComplete="username" required className="field" />
        )}
      </Field>
      <Field label="Password" hint="At least 10 characters.">
        {(id) => (
          <input
            id={id}
            name="password"
            type="password"
            autoComplete="new-password"
            required
            minLength={10}
            className="field"
          />
        )}
      </Field>
      <Button type="submit" kind="act" disabled={busy} className="w-full">
        Begin
      </Button>
    </form>
  );
}
