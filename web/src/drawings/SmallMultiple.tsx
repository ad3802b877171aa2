import type { SmallMeasure } from "../api/client";

const WIDE = 190;
const HIGH = 62;

/** One measure, small: planks under the beam of its own gate, all on one scale of shares. */
export function SmallMultiple({ measure }: { measure: SmallMeasure }) {
  const { points } = measure;
  const step = (WIDE - 6) / Math.max(points.length, 12);
  const y = (share: number) => HIGH - 3 - Math.min(share, 1.08) * (HIGH - 12);
  return (
    <svg
      viewBox={`0 0 ${WIDE} ${HIGH}`}
      width={WIDE}
      height={HIGH}
      className="max-w-full"
      role="img"
      aria-label={`${measure.title}: ${points.length} days, ${measure.figure}, ${measure.moves}`}
    >
      <rect x="0" y={y(1) - 2} width={WIDE} height="4" fill="var(--wood)" />
      {points.map((p, n) => (
        <rect
          // biome-ignore lint/suspicious/noArrayIndexKey: a plank is its place
          key={n}
          x={3 + n * step}
          y={y(p.share)}
          width={Math.max(2, step - 3)}
          height={Math.max(1, HIGH - 3 - y(p.share))}
          fill={p.bound ? "none" : p.by === "test" ? "var(--darkwood)" : "var(--wood)"}
          stroke={p.bound ? "var(--darkwood)" : "none"}
          strokeDasharray={p.bound ? "2 2" : undefined}
        />
      ))}
      <line x1="0" x2={WIDE} y1={HIGH - 2} y2={HIGH - 2} stroke="var(--ink)" strokeWidth="2" />
    </svg>
  );
}
