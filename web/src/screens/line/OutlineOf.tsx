import type { Outline } from "../../api/client";

const WIDE = 0.9;
const HIGH = 1.1;

interface Props {
  outlines: { outline: Outline; colour: string; dashed?: boolean }[];
  label: string;
  height: number;
}

/** Outlines of bodies by their joints, on one scale, hands on one spot, fingers to the right: they stand for pictures that are never kept. */
export function OutlineOf({ outlines, label, height }: Props) {
  const unit = 100;
  return (
    <svg
      viewBox={`${(-WIDE / 2) * unit} ${-HIGH * unit} ${WIDE * unit} ${(HIGH + 0.06) * unit}`}
      height={height}
      width={(height * WIDE) / (HIGH + 0.06)}
      role="img"
      aria-label={label}
    >
      <line
        x1={(-WIDE / 2) * unit}
        x2={(WIDE / 2) * unit}
        y1={0}
        y2={0}
        stroke="var(--darkwood)"
        strokeWidth={1.6}
      />
      <line
        x1={0}
        x2={0}
        y1={0}
        y2={-HIGH * unit}
        stroke="var(--blue)"
        strokeWidth={0.8}
        strokeDasharray="3 2.4"
      />
      {outlines.map(({ outline, colour, dashed }) =>
        outline.strokes.map((stroke, n) => (
          <polyline
            // biome-ignore lint/suspicious/noArrayIndexKey: strokes stand in the order of the body
            key={`${colour} ${n}`}
            points={stroke
              .map(([x = 0, y = 0]) => `${x * (outline.over ?? 1) * unit},${-y * unit}`)
              .join(" ")}
            fill="none"
            stroke={colour}
            strokeWidth={2.4}
            strokeLinecap="round"
            strokeLinejoin="round"
            strokeDasharray={dashed ? "5 3" : undefined}
          />
        )),
      )}
    </svg>
  );
}
