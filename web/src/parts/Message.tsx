import type { ReactNode } from "react";

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

/** What went wrong, in a sentence, and what to do. */
export function Problem({ error }: { error: unknown }) {
  return <Message danger>{error instanceof Error ? error.message : "Something went wrong."}</Message>;
}
