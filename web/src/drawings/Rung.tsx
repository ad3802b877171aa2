import { useId } from "react";
import type { DrillStanding } from "../api/client";

interface Props {
  state: DrillStanding["state"];
  fill: number;
  open: boolean;
  /** Steps back beside bars that are on the way to a goal. */
  pale?: boolean;
}

const TALL = 10;
const THIN = 6;

/** One wooden bar: solid wood is how much of the gate is filled, hatched is stale, dotted is closed. A waived one carries a dashed stripe. Bolts: one met, two proven. */
export function Rung({ state, fill, open, pale = false }: Props) {
  const HEIGHT = pale ? THIN : TALL;
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
      {bolts >= 1 && <Bolt className="-left-[10px]" small={pale} />}
      {bolts === 2 && <Bolt className="-right-[10px]" small={pale} />}
    </span>
  );
}

function Bolt({ className, small }: { className: string; small: boolean }) {
  const size = small ? "top-0 h-[7px] w-[7px] border-2 opacity-70" : "top-[1px] h-[9px] w-[9px] border-[3px]";
  return <span className={`absolute rounded-full border-ink bg-paper ${size} ${className}`} />;
}
