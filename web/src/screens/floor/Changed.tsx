import type { SlotNow } from "../../live/floor";
import { type LiveSession, standing } from "../../live/session";

/** What the day changed about the session, and how; what has one reason is said once. */
export function Changed({ session, slots }: { session: LiveSession; slots: SlotNow[] }) {
  const reasons = new Map<string, string[]>();
  for (const [n, now] of slots.entries()) {
    const was = session.sheet.variants[session.sheet.slots[n]?.planned ?? ""];
    if (!now.why || !was) continue;
    const is = session.sheet.variants[now.key];
    const what =
      now.status === "dropped"
        ? `${was.title} dropped`
        : was.title !== is?.title
          ? `${was.title} becomes ${is?.title.toLowerCase()}`
          : was.title;
    reasons.set(now.why, [...(reasons.get(now.why) ?? []), what]);
  }
  const begun = standing(session).find((e) => e.what.kind === "ready")?.what;
  const lacking = session.sheet.before?.checks.filter((c) => begun?.checks?.[c.check] === false) ?? [];
  if (!reasons.size && !lacking.length) return null;
  return (
    <section aria-label="Changed today" className="mt-4 max-w-3xl">
      <h2 className="text-lg">Changed today</h2>
      <ul className="grid gap-1 text-[0.9375rem]">
        {lacking.map((c) => (
          <li key={c.check}>{c.lacking}</li>
        ))}
        {[...reasons].map(([why, whats]) => (
          <li key={why}>
            <b>{whats.join("; ")}.</b> {why}
          </li>
        ))}
      </ul>
    </section>
  );
}
