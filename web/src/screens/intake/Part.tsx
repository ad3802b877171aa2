import type { ReactNode } from "react";

/** One part of the intake under its heading. */
export function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="mb-6">
      <h2 className="mb-1 border-b border-rule text-xl">{title}</h2>
      {children}
    </section>
  );
}
