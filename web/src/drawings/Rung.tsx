import { useId } from "react";
import type { DrillStanding } from "../api/client";

interface Props {
  state: DrillStanding["state"];
  fill: number;
  open: boolean;
  /** Steps back beside bars that are on the way to a goal. */
  pale?: boolean;
}

const HEIGHT = 10;

/** One wooden bar: solid wood is how much of the gate is filled, hatched is stale, dotted is closed. A waived one carries a dashed stripe. Bolts: one met, two proven. */
export function Rung({ state, fill, open, pale = false }: Props) {
  const hatch = useId();
  const bolts = state === "proven" ? 2 : state === "met" ? 1 : 0;
  const dotted = !open && state === "not yet";
  return (
    <span className="relative block" style={{ height: HEIGHT }} aria-hidden="true">
      <svg className="absolute inset-0 h-full w-full" role="presentation">
        <defs>
          <pattern
            id={hatch}
            width="7"
            height="7"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <rect width="7" height="7" fill="var(--sheet)" />
            <rect width="3" height="7" fill="var(--darkwood)" />
          </pattern>
        </defs>
        {dotted ? (
          <line
            x1="0"
            x2="100%"
            y1={HEIGHT - 2}
            y2={HEIGHT - 2}
            stroke="var(--darkwood)"
            strokeWidth="1.5"
            strokeDasharray="2 4"
          />
        ) : (
          <>
            <rect width="100%" height={HEIGHT} fill="var(--sheet)" />
            {fill > 0 && (
              <rect
                width={`${fill * 100}%`}
                height={HEIGHT}
                fill={state === "stale" ? `url(#${hatch})` : "var(--wood)"}
                opacity={pale ? 0.45 : 1}
              />
            )}
            {fill > 0 && fill < 1 && (
              <line
                x1={`${fill * 100}%`}
                x2={`${fill * 100}%`}
                y1="0"
                y2={HEIGHT}
                stroke="var(--darkwood)"
                strokeWidth="1.5"
              />
            )}
            {state === "waived" && (
              <line
                x1="0"
                x2="100%"
                y1={HEIGHT / 2}
                y2={HEIGHT / 2}
                stroke="var(--darkwood)"
                strokeWidth="3"
                strokeDasharray="10 5"
              />
            )}
            <rect
              x="0.5"
              y="0.5"
              width="calc(100% - 1px)"
              height={HEIGHT - 1}
              fill="none"
              stroke="var(--darkwood)"
              strokeWidth="1"
            />
          </>
        )}
      </svg>
      {bolts >= 1 && <Bolt className="-left-[10px]" />}
      {bolts === 2 && <Bolt className="-right-[10px]" />}
    </span>
  );
}

function Bolt({ className }: { className: string }) {
  return (
    <span
      className={`absolute top-[1px] h-[9px] w-[9px] rounded-full border-[3px] border-ink bg-paper ${className}`}
    />
  );
}
