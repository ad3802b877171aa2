import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useParams } from "react-router";
import { ask, client, type LinkShown } from "../../api/client";
import { useMe } from "../../api/me";
import { Button } from "../../parts/Button";
import { Field } from "../../parts/Field";
import { PasswordField, text } from "../../parts/forms";
import { Problem, Waiting } from "../../parts/Message";
import { AS } from "../hall/roles";

/** Where a link that works once leads: into a hall, to a sign-in on this device, or to a new password. */
export function Join() {
  const token = useParams().token ?? "";
  const link = useQuery({
    queryKey: ["join", token],
    queryFn: () => ask(client.GET("/api/join/{token}", { params: { path: { token } } })),
    staleTime: Number.POSITIVE_INFINITY,
  });
  return (
    <main id="main" className="mx-auto flex min-h-screen max-w-md flex-col justify-center p-6">
      <p className="mb-6 border-b-[6px] border-wood pb-3 font-head text-2xl font-bold shadow-[0_2px_0_var(--darkwood)]">
        Wise Perch
      </p>
      {link.isPending ? (
        <Waiting />
      ) : link.data ? (
        <Open token={token} link={link.data} />
      ) : (
        <Problem error={link.error} />
      )}
    </main>
  );
}

/** What each kind of link asks of whoever opens it. */
function Open({ token, link }: { token: string; link: LinkShown }) {
  if (link.kind === "invitation") return <ComeIn token={token} link={link} />;
  if (link.kind === "device") return <SignInHere token={token} link={link} />;
  return <ChoosePassword token={token} link={link} />;
}

function useSend() {
  const [error, setError] = useState<unknown>(null);
  const [busy, setBusy] = useState(false);
  const send = (call: Promise<unknown>) => {
    setBusy(true);
    call.then(() => window.location.assign("/"), setError).finally(() => setBusy(false));
  };
  const form = (call: (form: FormData) => Promise<unknown>) => (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    send(call(new FormData(event.currentTarget)));
  };
  return { error, busy, send, form };
}

interface Props {
  token: string;
  link: LinkShown;
}

const at = (token: string) => ({ params: { path: { token } } });

function ComeIn({ token, link }: Props) {
  const me = useMe();
  const [known, setKnown] = useState(false);
  const { error, busy, send, form } = useSend();
  return (
    <>
      <h1 className="mb-1 text-3xl">{link.hall}</h1>
      <p className="mb-4 text-soft">
        {link.invited_by} invites you into the hall, as {AS[link.role ?? "assistant"]}.
      </p>
      {error !== null && <Problem error={error} />}
      {me.data && (
        <Button
          kind="act"
          className="mb-6 w-full"
          disabled={busy}
          onClick={() => send(ask(client.POST("/api/join/{token}/me", at(token))))}
        >
          Come in as {me.data.name}
        </Button>
      )}
      {known ? (
        <form
          onSubmit={form((f) =>
            ask(
              client.POST("/api/join/{token}/known", {
                ...at(token),
                body: { email: text(f, "email"), password: text(f, "present") },
              }),
            ),
          )}
        >
          <EmailField />
          <PasswordField label="Password" name="present" />
          <Button type="submit" kind="act" disabled={busy} className="w-full">
            Sign in and come in
          </Button>
        </form>
      ) : (
        <form
          onSubmit={form((f) =>
            ask(
              client.POST("/api/join/{token}/new", {
                ...at(token),
                body: { name: text(f, "name"), email: text(f, "email"), password: text(f, "password") },
              }),
            ),
          )}
        >
          <Field label="Name">
            {(id) => (
              <input id={id} name="name" autoComplete="name" required maxLength={120} className="field" />
            )}
          </Field>
          <EmailField />
          <PasswordField label="Password" name="password" hint="At least 10 characters." />
          <Button type="submit" kind="act" disabled={busy} className="w-full">
            Come in
          </Button>
        </form>
      )}
      <Button kind="quiet" className="mt-3" onClick={() => setKnown(!known)}>
        {known ? "I have no sign-in here yet" : "I have a sign-in here already"}
      </Button>
    </>
  );
}

function EmailField() {
  return (
    <Field label="Email">
      {(id) => <input id={id} name="email" type="email" autoComplete="username" required className="field" />}
    </Field>
  );
}

function SignInHere({ token, link }: Props) {
  const { error, busy, send } = useSend();
  return (
    <>
      <h1 className="mb-1 text-3xl">{link.hall}</h1>
      <p className="mb-4 text-soft">Sign in on this device as {link.invited_by}.</p>
      {error !== null && <Problem error={error} />}
      <Button
        kind="act"
        disabled={busy}
        className="w-full"
        onClick={() => send(ask(client.POST("/api/join/{token}/device", at(token))))}
      >
        Sign in here
      </Button>
    </>
  );
}

function ChoosePassword({ token, link }: Props) {
  const { error, busy, form } = useSend();
  return (
    <form
      onSubmit={form((f) =>
        ask(
          client.POST("/api/join/{token}/reset", { ...at(token), body: { password: text(f, "password") } }),
        ),
      )}
    >
      <h1 className="mb-1 text-3xl">A new password</h1>
      <p className="mb-4 text-soft">
        For {link.email}, in {link.hall}. Every other device is signed out.
      </p>
      {error !== null && <Problem error={error} />}
      <PasswordField label="New password" name="password" hint="At least 10 characters." />
      <Button type="submit" kind="act" disabled={busy} className="w-full">
        Choose it
      </Button>
    </form>
  );
}
