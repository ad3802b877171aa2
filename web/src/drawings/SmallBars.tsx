import { useId } from "react";
import type { SmallBay } from "../api/client";
import { STATE } from "../parts/words";

const WIDTH = 17;
const HEIGHT = 48;
/** The usual distance of rungs; closer where the tallest bay has more than fit. */
const WIDEST = 5.2;

/** The wall bars in miniature: enough to recognise somebody by. */
export function SmallBars({ bays }: { bays: SmallBay[] }) {
  const hatch = useId();
  const tallest = Math.max(2, ...bays.map((bay) => bay.rungs.length));
  const step = Math.min(WIDEST, (HEIGHT - 9) / (tallest - 1));
  const said = bays
    .map((bay) => {
      const here = bay.rungs[bay.perch_rung];
      return `${bay.title}: ${here ? `rung ${bay.perch_rung + 1} of ${bay.rungs.length}, ${STATE[here]}` : "below the first rung"}`;
    })
    .join("; ");
  return (
    <svg
      viewBox={`0 0 ${bays.length * (WIDTH + 9) + 4} ${HEIGHT}`}
      width={bays.length * (WIDTH + 9) + 4}
      height={HEIGHT}
      role="img"
      aria-label={said}
    >
      <defs>
        <pattern id={hatch} width="4" height="4" patternUnits="userSpaceOnUse">
          <rect width="2" height="4" fill="var(--darkwood)" />
        </pattern>
      </defs>
      {bays.map((bay, i) => (
        <g key={bay.title} transform={`translate(${i * (WIDTH + 9) + 4} 0)`}>
          {[0, WIDTH].map((x) => (
            <line key={x} x1={x} x2={x} y1="1" y2={HEIGHT} stroke="var(--darkwood)" strokeWidth="2" />
          ))}
          {bay.rungs.map((state, rung) => {
            const y = HEIGHT - 4 - rung * step;
            return (
              <rect
                // biome-ignore lint/suspicious/noArrayIndexKey: a rung is its height
                key={rung}
                x="1"
                y={y - 1.2}
                width={WIDTH - 2}
                height="2.4"
                fill={
                  state === "not yet"
                    ? "var(--rule)"
                    : state === "stale"
                      ? `url(#${hatch})`
                      : state === "met"
                        ? "var(--wood)"
                        : "var(--darkwood)"
                }
              />
            );
          })}
          {bay.perch_rung >= 0 && (
            <rect
              x="-4"
              y={HEIGHT - 8 - bay.perch_rung * step}
              width="9"
              height="8"
              rx="1.5"
              fill="var(--blue)"
            />
          )}
        </g>
      ))}
    </svg>
  );
}
