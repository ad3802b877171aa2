/** What forms of account and hall share: a part under its heading, sending, a password. */
import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, type ReactNode, useState } from "react";
import { Field } from "./Field";
import { Message, Problem } from "./Message";

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
export function useSent(send: (form: FormData) => Promise<unknown>, done: string) {
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

/** What was typed into a form's field. */
export const text = (form: FormData, name: string) => String(form.get(name) ?? "");

/** A password to type. */
export function PasswordField({ label, name, hint }: { label: string; name: string; hint?: string }) {
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
