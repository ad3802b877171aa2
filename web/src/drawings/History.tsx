import type { DrillPage } from "../api/client";
import { day } from "../parts/words";

const WIDE = 340;
const HIGH = 84;

/** Every piece of evidence as a dot over time, the gate as a line: filled dots are clean, open ones are not. */
export function History({ points }: { points: DrillPage["history"] }) {
  const first = points[0];
  const last = points.at(-1);
  if (!first || !last || points.length < 2) return null;
  const from = Date.parse(first.day);
  const span = Math.max(1, Date.parse(last.day) - from);
  const top = Math.max(1.15, ...points.map((p) => p.fill));
  const x = (iso: string) => 8 + ((Date.parse(iso) - from) / span) * (WIDE - 16);
  const y = (fill: number) => HIGH - 20 - (fill / top) * (HIGH - 32);
  return (
    <svg
      viewBox={`0 0 ${WIDE} ${HIGH}`}
      className="mt-1 w-full"
      role="img"
      aria-label={`${points.length} sets from ${day(first.day)} to ${day(last.day)}; the list below has their figures`}
    >
      <line x1="0" x2={WIDE} y1={y(0)} y2={y(0)} stroke="var(--rule)" />
      <line x1="0" x2={WIDE} y1={y(1)} y2={y(1)} stroke="var(--blue)" strokeDasharray="4 4" />
      <text x={WIDE} y={y(1) - 4} textAnchor="end" fontSize="11" fill="var(--blue)">
        gate
      </text>
      {points.map((p, place) => (
        <circle
          // biome-ignore lint/suspicious/noArrayIndexKey: the drawing is made again with its points
          key={place}
          cx={x(p.day)}
          cy={y(p.fill)}
          r="3.5"
          fill={p.form === "clean" ? "var(--darkwood)" : "none"}
          stroke="var(--darkwood)"
        />
      ))}
      <text x="0" y={HIGH - 3} fontSize="11" fill="var(--soft)">
        {day(first.day)}
      </text>
      <text x={WIDE} y={HIGH - 3} textAnchor="end" fontSize="11" fill="var(--soft)">
        {day(last.day)}
      </text>
    </svg>
  );
}
