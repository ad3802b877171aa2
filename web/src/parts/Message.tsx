import type { ReactNode } from "react";
import { Failure } from "../api/client";

/** Something went wrong, or needs care: brick is kept for pain and danger, so a plain message stands in ink. */
export function Message({ danger = false, children }: { danger?: boolean; children: ReactNode }) {
  return (
    <div
      role={danger ? "alert" : "status"}
      className={`my-4 max-w-3xl border-l-4 bg-sheet px-4 py-3 ${danger ? "border-brick" : "border-ink"}`}
    >
      {children}
    </div>
  );
}

/** Shown while an answer is on its way. */
export function Waiting() {
  return (
    <p role="status" className="p-8 text-soft">
      One moment …
    </p>
  );
}

/** What went wrong, in a sentence, and what to do; with `named` all that the answer names, line by line. */
export function Problem({ error, named = false }: { error: unknown; named?: boolean }) {
  const lines = named && error instanceof Failure ? error.problems : [];
  return (
    <Message danger>
      {error instanceof Error ? error.message : "Something went wrong."}
      {lines.length > 0 && (
        <ul className="mt-2">
          {lines.map((p) => (
            <li key={`${p.where} ${p.what}`}>
              <b>{p.where}</b>: {p.what}
            </li>
          ))}
        </ul>
      )}
    </Message>
  );
}
