import type { JointLabel, Joints } from "./body";

/** Where a drawing puts a point of the room: metres in, px out. */
export interface Drawn {
  joints: Joints;
  x: (m: number) => number;
  z: (m: number) => number;
}

interface WeightProps {
  x: number;
  z: number;
  floor: number;
  top: number;
  /** On which side of the line its name stands. */
  left: boolean;
}

/** The vertical through the centre of mass. */
export function WeightLine({ x, z, floor, top, left }: WeightProps) {
  return (
    <g>
      <line x1={x} x2={x} y1={top} y2={floor} stroke="var(--blue)" strokeWidth="2.5" strokeDasharray="7 6" />
      <circle cx={x} cy={z} r="8" fill="var(--paper)" stroke="var(--blue)" strokeWidth="4" />
      <text
        x={left ? x - 8 : x + 8}
        y={top + 14}
        textAnchor={left ? "end" : "start"}
        className="fill-blue text-sm"
      >
        weight line
      </text>
    </g>
  );
}

/** What the floor carries at a place, in words. */
export function Load({ words, x, floor }: { words: string; x: number; floor: number }) {
  return (
    <g>
      <path
        d={`M${x} ${floor + 36} v-20 m-6 7 l6 -7 l6 7`}
        fill="none"
        stroke="var(--ink)"
        strokeWidth="2.5"
      />
      <text x={x + 14} y={floor + 32} className="fill-ink text-sm font-bold">
        {words}
      </text>
    </g>
  );
}

/** How far the weight may stand to either side and still be brought back: two lines from the wrist. */
export function Limits({
  over,
  under,
  high,
  x,
  z,
}: { over: number; under: number; high: number } & Omit<Drawn, "joints">) {
  return (
    <g stroke="var(--darkwood)" strokeWidth="2" strokeDasharray="3 5">
      {[over, under].map((angle) => (
        <line key={angle} x1={x(0)} y1={z(0)} x2={x(high * Math.sin(angle))} y2={z(high * Math.cos(angle))} />
      ))}
    </g>
  );
}

/** A figure at a joint, on the side away from the body. */
export function Label({ joints, label, weight, x, z }: Drawn & { label: JointLabel; weight: number }) {
  const at = joints[label.joint];
  const hip = joints.hip;
  if (!at || !hip) return null;
  const onHip = label.joint === "hip";
  // away from the limb that leads to it
  const from = (label.joint === "elbow" ? joints.shoulder : hip) ?? hip;
  const left = onHip ? (at[0] ?? 0) < weight : (at[0] ?? 0) <= (from[0] ?? 0);
  const beside = x(at[0] ?? 0) + (left ? -26 : 26);
  // never cut by the drawing's edge
  const px = left ? Math.max(beside, label.words.length * 8) : beside;
  const py = z(at[1] ?? 0);
  return (
    <g>
      <circle cx={x(at[0] ?? 0)} cy={py} r="4.5" fill="var(--wood)" />
      <text
        x={px}
        y={py + (onHip ? -10 : 5)}
        textAnchor={left ? "end" : "start"}
        className="fill-ink text-sm"
        stroke="var(--paper)"
        strokeWidth="4"
        paintOrder="stroke"
      >
        {label.words}
      </text>
    </g>
  );
}

/** A measured distance or height between two ends. */
export function Span({
  from,
  to,
  words,
  width,
  x,
  y,
}: {
  from: number;
  to: number;
  words: string;
  width: number;
  x: (m: number) => number;
  y: number;
}) {
  const [a, b] = [x(Math.min(from, to)), x(Math.max(from, to))];
  // words that are wider than what they measure stand beside it, or over it in a narrow drawing
  const said = words.length * 8.5 < width ? words : (words.split(" · ")[0] ?? words);
  const wide = said.length * 8.5;
  const beside = b - a <= wide && (b + 10 + wide <= width ? "start" : a - 10 - wide >= 0 ? "end" : null);
  const middle = Math.min(Math.max((a + b) / 2, wide / 2 + 4), width - wide / 2 - 4);
  return (
    <g stroke="var(--blue)" strokeWidth="2.5">
      <path d={`M${a} ${y - 9} v18 M${a} ${y} H${b} M${b} ${y - 9} v18`} fill="none" />
      <text
        x={beside === "start" ? b + 10 : beside === "end" ? a - 10 : middle}
        y={beside ? y + 5 : y - 6}
        textAnchor={beside || "middle"}
        className="fill-blue font-bold"
        stroke="var(--paper)"
        strokeWidth="4"
        paintOrder="stroke"
      >
        {said}
      </text>
    </g>
  );
}
