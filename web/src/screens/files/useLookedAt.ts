import { useQueryClient } from "@tanstack/react-query";
import { type ChangeEvent, useState } from "react";

/** The body of a request that sends one file. */
export function asForm(file: File) {
  const body = new FormData();
  body.append("file", file);
  // the form is sent as it is; the schema names its field as text
  return { body: body as never, bodySerializer: () => body };
}

/** A file that is looked at when it is chosen, and kept on a second word; nothing is kept before. */
export function useLookedAt<T>(send: (file: File, keep: boolean) => Promise<T>) {
  const queries = useQueryClient();
  const [file, setFile] = useState<File>();
  const [plan, setPlan] = useState<T>();
  const [error, setError] = useState<unknown>();
  const [busy, setBusy] = useState(false);
  const go = async (chosen: File, keep: boolean) => {
    setBusy(true);
    setError(undefined);
    try {
      setPlan(await send(chosen, keep));
      if (keep) await queries.invalidateQueries();
    } catch (failure) {
      setPlan(undefined);
      setError(failure);
    } finally {
      setBusy(false);
    }
  };
  const choose = (event: ChangeEvent<HTMLInputElement>) => {
    const chosen = event.target.files?.[0];
    setFile(chosen);
    setPlan(undefined);
    setError(undefined);
    if (chosen) void go(chosen, false);
  };
  return { plan, error, busy, choose, keep: () => file && void go(file, true) };
}
