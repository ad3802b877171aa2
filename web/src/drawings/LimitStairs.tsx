import type { MeasureStory } from "../api/client";
import { atNoon, dayMonth } from "../parts/words";

const WIDE = 360;
const HIGH = 92;

/** Where a dial has its limit, day by day: stairs that climb as it gets harder. */
export function LimitStairs({ story }: { story: MeasureStory }) {
  const { limits } = story;
  const [first, last] = [limits[0], limits.at(-1)];
  if (!first || !last || limits.length < 2) return null;
  const from = atNoon(first.day).getTime();
  const span = Math.max(1, atNoon(last.day).getTime() - from);
  const x = (day: string) => 6 + ((atNoon(day).getTime() - from) / span) * (WIDE - 70);
  const y = (height: number) => HIGH - 24 - height * (HIGH - 44);
  const stairs = limits.map((l, n) => `${n ? `H${x(l.day)}V` : `M${x(l.day)},`}${y(l.height)}`).join("");
  return (
    <svg
      viewBox={`0 0 ${WIDE} ${HIGH}`}
      width={WIDE}
      height={HIGH}
      className="max-w-full"
      role="img"
      aria-label={`${story.dial_words}. ${first.said} on ${dayMonth(first.day)}, ${last.said} on ${dayMonth(last.day)}`}
    >
      <path d={stairs} fill="none" stroke="var(--darkwood)" strokeWidth="3" />
      {limits.map((l) => (
        <circle
          key={l.day}
          cx={x(l.day)}
          cy={y(l.height)}
          r="4"
          fill={l.by === "test" ? "var(--darkwood)" : "var(--wood)"}
        />
      ))}
      <text x={x(last.day) + 9} y={y(last.height) + 5} fontSize="14" fontWeight="700" fill="var(--ink)">
        {last.said}
      </text>
      <text x="2" y={HIGH - 3} fontSize="13" fill="var(--soft)">
        {dayMonth(first.day)}
      </text>
      <text x={x(last.day)} y={HIGH - 3} textAnchor="end" fontSize="13" fill="var(--soft)">
        {dayMonth(last.day)}
      </text>
    </svg>
  );
}
