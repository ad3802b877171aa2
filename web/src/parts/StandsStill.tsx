import type { Standstill } from "../api/client";

/** What stands still: why it may be so, and what practice would try. */
export function StandsStill({ still }: { still: Standstill }) {
  return (
    <section aria-label={`${still.title} stands still`} className="border-l-4 border-wood bg-sheet px-4 py-2">
      <p>
        {still.sentence}. {still.causes.map((c) => c.text).join(" ")} What practice would try:
      </p>
      <ol className="list-decimal pl-6">
        {still.options.map((option) => (
          <li key={option.text}>{option.text}</li>
        ))}
      </ol>
    </section>
  );
}
