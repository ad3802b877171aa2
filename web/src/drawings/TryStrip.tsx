import { useEffect, useRef, useState } from "react";
import type { Fell, Outcome } from "../api/client";
import { FELL, OUTCOMES, secs } from "../parts/words";

export interface Stroke {
  number: number;
  outcome: Outcome;
  seconds: number | null;
  fell: Fell | null;
  early?: boolean;
}

interface Props {
  tries: Stroke[];
  /** How many places the strip has. */
  of: number;
  /** The seconds of the try going on now. */
  now?: number | null;
  height?: number;
  small?: boolean;
  label: string;
}

const LONG_S = 10;
const CEILING_S = 12;

/** Ten strokes that read as one picture: held tries rise by their seconds and lean the way they fell; others are marks on a side. */
export function TryStrip({ tries, of, now = null, height = 150, small = false, label }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(600);
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width));
    if (box.current) watch.observe(box.current);
    return () => watch.disconnect();
  }, []);
  const floor = height - (small ? 22 : 42);
  const rise = (floor - 16) / CEILING_S;
  // room at both ends for a foot that leans out
  const pad = 12;
  const slot = (width - 2 * pad) / of;
  const thick = small ? 8 : Math.min(14, slot / 4);
  const x = (place: number) => pad + (place + 0.5) * slot;
  const wide = slot > 72 && !small;
  return (
    <div ref={box} className="w-full overflow-hidden">
      <svg width={width} height={height} role="img" aria-label={`${label}: ${spoken(tries)}`}>
        <line
          x1="0"
          x2={width}
          y1={floor - LONG_S * rise}
          y2={floor - LONG_S * rise}
          stroke="var(--blue)"
          strokeWidth="1.5"
          strokeDasharray="3 5"
        />
        <text
          x={width}
          y={floor - LONG_S * rise - 5}
          textAnchor="end"
          fill="var(--blue)"
          fontSize={small ? 11 : 13}
        >
          10 s
        </text>
        {now !== null && (
          <rect
            x={x(tries.length) - slot * 0.4}
            y={floor - LONG_S * rise}
            width={slot * 0.8}
            height={LONG_S * rise}
            fill="var(--tint)"
          />
        )}
        <line x1="0" x2={width} y1={floor} y2={floor} stroke="var(--ink)" strokeWidth={small ? 1.5 : 2.5} />
        {tries.map((t, place) => (
          <g key={t.number}>
            {t.outcome === "held" ? (
              <HeldStroke
                x={x(place)}
                floor={floor}
                height={Math.min(t.seconds ?? 0, CEILING_S) * rise}
                thick={thick}
                fell={t.fell}
              />
            ) : (
              <Passed x={x(place)} floor={floor} over={t.outcome === "overshot"} thick={thick} />
            )}
            {(t.outcome === "held" || wide) && (
              <text
                x={x(place)}
                y={height - (small ? 4 : 10)}
                textAnchor="middle"
                fill={t.outcome === "held" ? "var(--ink)" : "var(--soft)"}
                fontWeight={t.outcome === "held" ? 700 : 400}
                fontSize={small ? 11.5 : t.outcome === "held" && wide ? 17 : 14}
              >
                {t.outcome === "held"
                  ? wide
                    ? secs(t.seconds)
                    : secs(t.seconds).replace(" s", "")
                  : OUTCOMES[t.outcome]}
              </text>
            )}
            {t.early && (
              <text x={x(place)} y={12} textAnchor="middle" fill="var(--soft)" fontSize="12">
                early
              </text>
            )}
          </g>
        ))}
        {now !== null && (
          <line
            x1={x(tries.length)}
            x2={x(tries.length)}
            y1={floor}
            y2={floor - Math.max(0.1, Math.min(now, CEILING_S)) * rise}
            stroke="var(--blue)"
            strokeWidth={thick}
            strokeLinecap="round"
          />
        )}
        {!small &&
          Array.from({ length: Math.max(0, of - tries.length) }, (_, i) => tries.length + i).map((place) => (
            <text
              key={place}
              x={x(place)}
              y={height - 10}
              textAnchor="middle"
              fill={now !== null && place === tries.length ? "var(--blue)" : "var(--faint)"}
              fontWeight={now !== null && place === tries.length ? 700 : 400}
              fontSize="14"
            >
              {now !== null && place === tries.length && wide ? `try ${place + 1}` : place + 1}
            </text>
          ))}
      </svg>
    </div>
  );
}

const spoken = (tries: Stroke[]) =>
  tries.length
    ? tries
        .map((t) =>
          t.outcome === "held"
            ? `${t.number} held ${secs(t.seconds)}${t.fell ? `, ${FELL[t.fell]}` : ""}`
            : `${t.number} ${OUTCOMES[t.outcome]}`,
        )
        .join("; ")
    : "no try yet";

interface HeldProps {
  x: number;
  floor: number;
  height: number;
  thick: number;
  fell: Fell | null;
}

function HeldStroke({ x, floor, height, thick, fell }: HeldProps) {
  const lean = fell === "over" ? 1 : fell === "under" ? -1 : 0;
  const top = floor - height;
  const foot = lean ? ` l ${lean * thick * 1.9} ${-thick * 0.75}` : "";
  return (
    <path
      d={`M ${x} ${floor} L ${x} ${top}${foot}`}
      fill="none"
      stroke="var(--darkwood)"
      strokeWidth={thick}
      strokeLinecap="round"
      strokeLinejoin="round"
    />
  );
}

/** Past vertical leans right of the line, short of it left and below: two sides, two shapes. */
function Passed({ x, floor, over, thick }: { x: number; floor: number; over: boolean; thick: number }) {
  const [dx, low] = over ? [1, floor - 12] : [-1, floor + 9];
  return (
    <line
      x1={x - thick * 1.2}
      x2={x + thick * 1.2}
      y1={low + dx * thick * 0.6}
      y2={low - dx * thick * 0.6}
      stroke="var(--soft)"
      strokeWidth={thick * 0.55}
      strokeLinecap="round"
    />
  );
}
