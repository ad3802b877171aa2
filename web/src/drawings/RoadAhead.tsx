import type { Outlook } from "../api/client";
import { day } from "../parts/words";
import { useWidth } from "./useWidth";

const HIGH = 260;
const LEFT = 34;
const FOOT = 34;

/**
 * The steps still to go, week by week: rungs to climb down to the floor of the drawing, where the goal is. The band reaches from the
 * fewest to the most of all simulated trainees, the line is their middle.
 */
export function RoadAhead({ outlook }: { outlook: Outlook }) {
  const [box, wide] = useWidth(720);
  const { weeks, now } = outlook;
  const most = Math.max(now, ...weeks.map((w) => w.most), 1);
  const x = (n: number) => LEFT + (n / weeks.length) * (wide - LEFT - 12);
  const y = (left: number) => 12 + (1 - left / most) * (HIGH - FOOT - 12);
  const line = (of: (w: Outlook["weeks"][number]) => number) => [
    [x(0), y(now)],
    ...weeks.map((w, n) => [x(n + 1), y(of(w))]),
  ];
  const text = (points: number[][]) => points.map((p) => p.map((v) => v.toFixed(1)).join(",")).join(" ");
  const band = [...line((w) => w.least), ...line((w) => w.most).reverse()];
  const rungs = Array.from({ length: most + 1 }, (_, n) => n).filter((n) => n % Math.ceil(most / 10) === 0);
  const last = weeks.at(-1);
  return (
    <div ref={box}>
      <svg
        width={wide}
        height={HIGH}
        role="img"
        aria-label={`${now} steps to go now, in ${weeks.length} weeks ${last?.middle ?? now} in the middle of ${outlook.lives} simulated trainees; the table below has every week`}
      >
        {rungs.map((n) => (
          <g key={n}>
            <line x1={LEFT} x2={wide - 12} y1={y(n)} y2={y(n)} stroke="var(--rule)" strokeWidth={n ? 1 : 3} />
            <text x={LEFT - 8} y={y(n) + 4} textAnchor="end" fontSize="13" fill="var(--soft)">
              {n}
            </text>
          </g>
        ))}
        <polygon points={text(band)} fill="var(--lightwood)" />
        <polyline points={text(line((w) => w.middle))} fill="none" stroke="var(--darkwood)" strokeWidth="3" />
        {weeks.map((w, n) => (
          <circle key={w.week} cx={x(n + 1)} cy={y(w.middle)} r="4" fill="var(--darkwood)" />
        ))}
        <rect x={x(0) - 6} y={y(now) - 5} width="12" height="10" rx="2" fill="var(--blue)" />
        {weeks.map((w, n) =>
          n % 3 === 2 ? (
            <text
              key={w.week}
              x={x(n + 1)}
              y={HIGH - 10}
              textAnchor={n === weeks.length - 1 ? "end" : "middle"}
              fontSize="13"
              fill="var(--soft)"
            >
              week {n + 1}, {day(w.week)}
            </text>
          ) : null,
        )}
      </svg>
    </div>
  );
}
