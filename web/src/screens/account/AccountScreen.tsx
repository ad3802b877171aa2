import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { v7 as uuidv7 } from "uuid";
import { ask, type Coach, client } from "../../api/client";
import { useMe } from "../../api/me";
import { count, sound } from "../../live/sounds";
import { Button } from "../../parts/Button";
import { Choice, Field } from "../../parts/Field";
import { For } from "../../parts/For";
import { Part, PasswordField, text, useSent } from "../../parts/forms";
import { Problem, Waiting } from "../../parts/Message";
import { moment } from "../../parts/words";
import { Gone } from "./Gone";

/** The coach's own account: password, email, where they are signed in, tokens for scripts; and who left. */
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
          <Heard me={me.data} />
          <Read me={me.data} />
          <Password />
          <Email me={me.data} />
        </div>
        <div className="grid gap-y-9">
          <Sessions />
          <Tokens />
          <For least="coach">
            <Gone />
          </For>
        </div>
      </div>
    </>
  );
}

const VOLUMES = [10, 25, 40, 55, 70, 85, 100];

/** What is heard and felt, and how loud. */
function Heard({ me }: { me: Coach }) {
  const queries = useQueryClient();
  const [error, setError] = useState<unknown>(null);
  const change = (body: { sounds?: boolean; volume?: number; vibration?: boolean; voice?: boolean }) => {
    queries.setQueryData<Coach>(["me"], { ...me, ...body });
    ask(client.PATCH("/api/me", { body })).then((now) => queries.setQueryData(["me"], now), setError);
  };
  const ticks = [
    ["sounds", "Tones", "at the start, the end and the last seconds of a rest"],
    ["vibration", "Vibration", "beside the tones, where the phone can"],
    ["voice", "A voice that counts", "every second of a hold, by this device's own speech"],
  ] as const;
  return (
    <Part title="Heard and felt" about="On Bench and Floor, on every device of yours.">
      {error !== null && <Problem error={error} />}
      {ticks.map(([name, title, words]) => (
        <label key={name} className="flex min-h-11 items-center gap-3">
          <input
            type="checkbox"
            className="h-6 w-6 accent-blue"
            checked={me[name]}
            onChange={(event) => change({ [name]: event.target.checked })}
          />
          <span>
            {title} <span className="text-soft">{words}</span>
          </span>
        </label>
      ))}
      <Field label="How loud">
        {(id) => (
          <select
            id={id}
            className="field w-auto"
            value={me.volume}
            onChange={(event) => change({ volume: Number(event.target.value) })}
          >
            {[...new Set([...VOLUMES, me.volume])]
              .sort((x, y) => x - y)
              .map((volume) => (
                <option key={volume} value={volume}>
                  {volume} %
                </option>
              ))}
          </select>
        )}
      </Field>
      <Button
        className="mt-2"
        onClick={() => {
          sound("start");
          count(3);
        }}
      >
        Try it
      </Button>
    </Part>
  );
}

const READ = [
  [
    "units",
    "Lengths and weights",
    [
      ["cm", "cm and kg"],
      ["in", "in and lb beside them"],
    ],
  ],
  [
    "dates",
    "Days",
    [
      ["day-month", "3 May"],
      ["month-day", "May 3"],
      ["year-month-day", "05-03"],
    ],
  ],
  [
    "decimal",
    "Figures",
    [
      ["point", "3.1"],
      ["comma", "3,1"],
    ],
  ],
] as const;

/** How lengths, days and figures are written for this coach. Files and forms stay as they are. */
function Read({ me }: { me: Coach }) {
  const queries = useQueryClient();
  const [error, setError] = useState<unknown>(null);
  const change = (name: (typeof READ)[number][0], value: string) =>
    ask(client.PATCH("/api/me", { body: { [name]: value } })).then((now) => {
      queries.setQueryData(["me"], now);
      // what stands already was written the other way
      window.location.reload();
    }, setError);
  return (
    <Part
      title="Written"
      about="How you read it. What is typed and what goes into files stays in cm, kg and points."
    >
      {error !== null && <Problem error={error} />}
      {/* the ways to choose from stand as they are */}
      <div data-as-written>
        {READ.map(([name, legend, options]) => (
          <Choice
            key={name}
            legend={legend}
            options={options as readonly (readonly [string, string])[]}
            value={me[name]}
            onPick={(value) => void change(name, value)}
          />
        ))}
      </div>
    </Part>
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
