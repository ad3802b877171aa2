import type { MeasureStory } from "../api/client";
import { atNoon, dayMonth } from "../parts/words";

const WIDE = 360;
const HIGH = 92;

/** Where a dial has its limit, day by day: stairs that climb as it gets harder. */
export function LimitStairs({ story }: { story: MeasureStory }) {
  const { limits } = story;
  const [first, last] = [limits[0], limits.at(-1)];
  if (!first || !last || limits.length < 2) return null;
  const falls = ["nearer", "lower", "faster"].includes(story.harder);
  const all = limits.map((l) => l.setting);
  const [least, most] = [Math.min(...all), Math.max(...all)];
  const unit = story.dial_unit === "deg" ? "°" : ` ${story.dial_unit}`;
  const from = atNoon(first.day).getTime();
  const span = Math.max(1, atNoon(last.day).getTime() - from);
  const x = (day: string) => 6 + ((atNoon(day).getTime() - from) / span) * (WIDE - 70);
  const share = (setting: number) => (most === least ? 0.5 : (setting - least) / (most - least));
  const y = (setting: number) => HIGH - 24 - (falls ? 1 - share(setting) : share(setting)) * (HIGH - 44);
  const stairs = limits.map((l, n) => `${n ? `H${x(l.day)}V` : `M${x(l.day)},`}${y(l.setting)}`).join("");
  return (
    <svg
      viewBox={`0 0 ${WIDE} ${HIGH}`}
      width={WIDE}
      height={HIGH}
      className="max-w-full"
      role="img"
      aria-label={`${story.dial}: ${first.setting}${unit} on ${dayMonth(first.day)}, ${last.setting}${unit} on ${dayMonth(last.day)}, ${story.harder} is harder`}
    >
      <path d={stairs} fill="none" stroke="var(--darkwood)" strokeWidth="3" />
      {limits.map((l) => (
        <circle
          key={l.day}
          cx={x(l.day)}
          cy={y(l.setting)}
          r="4"
          fill={l.by === "test" ? "var(--darkwood)" : "var(--wood)"}
        />
      ))}
      <text x={x(last.day) + 9} y={y(last.setting) + 5} fontSize="14" fontWeight="700" fill="var(--ink)">
        {last.setting}
        {unit}
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
