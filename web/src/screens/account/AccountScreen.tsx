import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, type ReactNode, useState } from "react";
import { v7 as uuidv7 } from "uuid";
import { ask, type Coach, client } from "../../api/client";
import { useMe } from "../../api/hooks";
import { Button } from "../../parts/Button";
import { Field } from "../../parts/Field";
import { Message, Problem, Waiting } from "../../parts/Message";
import { moment } from "../../parts/words";
import { Gone } from "./Gone";

/** The coach's own account: time zone, password, email, where they are signed in, tokens for scripts; and who left. */
export function AccountScreen() {
  const me = useMe();
  if (me.isPending) return <Waiting />;
  if (!me.data) return <Problem error={me.error} />;
  return (
    <>
      <h1 className="mb-1 text-[2.125rem] leading-tight">Account</h1>
      <p className="mb-5 text-soft">
        {me.data.name}, {me.data.email}
      </p>
      <div className="grid items-start gap-x-14 gap-y-9 lg:grid-cols-2">
        <div className="grid gap-y-9">
          <TimeZone me={me.data} />
          <Password />
          <Email me={me.data} />
        </div>
        <div className="grid gap-y-9">
          <Sessions />
          <Tokens />
          <Gone />
        </div>
      </div>
    </>
  );
}

/** One part of the page under its heading. */
export function Part({ title, about, children }: { title: string; about?: string; children: ReactNode }) {
  return (
    <section aria-label={title} className="max-w-xl">
      <h2 className="mb-2 border-b border-rule text-xl">{title}</h2>
      {about && <p className="mb-3 text-soft">{about}</p>}
      {children}
    </section>
  );
}

/** Sends a form, says what went wrong, or that it was done. */
function useSent(send: (form: FormData) => Promise<unknown>, done: string) {
  const queries = useQueryClient();
  const [said, say] = useState<ReactNode>(null);
  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = event.currentTarget;
    try {
      await send(new FormData(form));
      form.reset();
      await queries.invalidateQueries();
      say(<Message>{done}</Message>);
    } catch (error) {
      say(<Problem error={error} />);
    }
  };
  return { said, submit: (event: FormEvent<HTMLFormElement>) => void submit(event) };
}

const text = (form: FormData, name: string) => String(form.get(name) ?? "");

function TimeZone({ me }: { me: Coach }) {
  const { said, submit } = useSent(
    (form) => ask(client.PATCH("/api/me", { body: { time_zone: text(form, "zone") } })),
    "Kept. Every day of the hall is counted in it from now on.",
  );
  // the zone that is kept stands in the list even where this browser does not know it
  const zones = [...new Set([me.time_zone, ...Intl.supportedValuesOf("timeZone"), "UTC"])].sort();
  return (
    <Part title="Time zone" about="A late session counts on the day it is in the hall.">
      {said}
      <form key={me.time_zone} onSubmit={submit} className="flex flex-wrap items-end gap-3 [&>div]:mb-0">
        <Field label="The hall's time zone">
          {(id) => (
            <select id={id} name="zone" className="field" defaultValue={me.time_zone}>
              {zones.map((zone) => (
                <option key={zone}>{zone}</option>
              ))}
            </select>
          )}
        </Field>
        <Button type="submit">Keep the zone</Button>
      </form>
    </Part>
  );
}

function PasswordField({ label, name, hint }: { label: string; name: string; hint?: string }) {
  const isNew = name === "password";
  return (
    <Field label={label} {...(hint ? { hint } : {})}>
      {(id) => (
        <input
          id={id}
          name={name}
          type="password"
          required
          minLength={isNew ? 10 : 1}
          maxLength={200}
          autoComplete={isNew ? "new-password" : "current-password"}
          className="field"
        />
      )}
    </Field>
  );
}

function Password() {
  const { said, submit } = useSent(
    (form) =>
      ask(
        client.POST("/api/me/password", {
          body: { present: text(form, "present"), password: text(form, "password") },
        }),
      ),
    "The password is changed, and every other device is signed out.",
  );
  return (
    <Part title="Password" about="A new one signs every other device out.">
      {said}
      <form onSubmit={submit}>
        <PasswordField label="Present password" name="present" />
        <PasswordField label="New password" name="password" hint="At least 10 characters." />
        <Button type="submit">Change the password</Button>
      </form>
    </Part>
  );
}

function Email({ me }: { me: Coach }) {
  const { said, submit } = useSent(
    (form) =>
      ask(
        client.POST("/api/me/email", {
          body: { present: text(form, "present"), email: text(form, "email") },
        }),
      ),
    "Sign in with the new email from now on.",
  );
  return (
    <Part title="Email">
      {said}
      <form onSubmit={submit}>
        <Field label="New email" hint={`Now ${me.email}.`}>
          {(id) => (
            <input id={id} name="email" type="email" required autoComplete="email" className="field" />
          )}
        </Field>
        <PasswordField label="Password, to be sure" name="present" />
        <Button type="submit">Change the email</Button>
      </form>
    </Part>
  );
}

function Sessions() {
  const queries = useQueryClient();
  const [wrong, setWrong] = useState<unknown>(null);
  const sessions = useQuery({ queryKey: ["sessions"], queryFn: () => ask(client.GET("/api/me/sessions")) });
  const end = (session: string) =>
    ask(client.POST("/api/me/sessions/{session}/end", { params: { path: { session } } })).then(
      () => queries.invalidateQueries({ queryKey: ["sessions"] }),
      setWrong,
    );
  return (
    <Part title="Signed in on">
      {wrong !== null && <Problem error={wrong} />}
      {sessions.error && <Problem error={sessions.error} />}
      <ul>
        {(sessions.data ?? []).map((s) => (
          <li
            key={s.id}
            className="flex min-h-11 items-center justify-between gap-4 border-b border-rule py-1"
          >
            <span>
              A {s.device || "device"}
              {s.here && <b>, this one</b>}
              <span className="block text-sm text-soft">
                since {moment(s.opened_at)}
                {s.seen_at && !s.here && `, last here ${moment(s.seen_at)}`}
              </span>
            </span>
            {!s.here && (
              <Button
                className="shrink-0"
                aria-label={`Sign it out: a ${s.device}, since ${moment(s.opened_at)}`}
                onClick={() => void end(s.id)}
              >
                Sign it out
              </Button>
            )}
          </li>
        ))}
      </ul>
    </Part>
  );
}

function Tokens() {
  const queries = useQueryClient();
  const [made, setMade] = useState<{ name: string; token: string } | null>(null);
  const tokens = useQuery({ queryKey: ["tokens"], queryFn: () => ask(client.GET("/api/me/tokens")) });
  const { said, submit } = useSent(async (form) => {
    const body = { id: uuidv7(), name: text(form, "name") };
    setMade(await ask(client.POST("/api/me/tokens", { body })));
  }, "Made. It is shown this once: copy it now.");
  const revoke = (token: string) =>
    ask(client.POST("/api/me/tokens/{token}/revoke", { params: { path: { token } } })).finally(
      () => void queries.invalidateQueries({ queryKey: ["tokens"] }),
    );
  return (
    <Part
      title="Tokens for scripts"
      about="A script with a token reads and writes as you do. It cannot change your password, and you can take it back."
    >
      {said}
      {made && (
        <p className="mb-3 break-all border-l-4 border-wood bg-sheet px-4 py-3 font-mono text-sm">
          {made.token}
        </p>
      )}
      <ul>
        {(tokens.data ?? []).map((t) => (
          <li
            key={t.id}
            className="flex min-h-11 items-center justify-between gap-4 border-b border-rule py-1"
          >
            <span>
              {t.name}
              <span className="block text-sm text-soft">
                made {moment(t.made_at)}, {t.used_at ? `last used ${moment(t.used_at)}` : "not used yet"}
              </span>
            </span>
            <Button
              className="shrink-0"
              aria-label={`Take it back: ${t.name}`}
              onClick={() => void revoke(t.id)}
            >
              Take it back
            </Button>
          </li>
        ))}
      </ul>
      <form onSubmit={submit} className="mt-3 flex flex-wrap items-end gap-3 [&>div]:mb-0">
        <Field label="What it is for">
          {(id) => <input id={id} name="name" required maxLength={120} className="field" />}
        </Field>
        <Button type="submit">Make a token</Button>
      </form>
    </Part>
  );
}
