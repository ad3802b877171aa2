import type { Room } from "../api/client";
import type { Point } from "./body";
import type { Drawn as Placed } from "./SideWords";

/** From joint to joint with its thickness, m; of two ways to name where a limb begins the first that is there counts. */
const LIMBS: readonly (readonly [readonly string[], string, number])[] = [
  [["shoulder"], "waist", 0.1],
  [["waist", "shoulder"], "hip", 0.1],
  [["shoulder_side"], "shoulder_side_2", 0.08],
  [["hip_side"], "hip_side_2", 0.08],
  [["ankle"], "ball", 0.045],
  [["ankle"], "toes", 0.045],
  [["ankle_2"], "toes_2", 0.045],
  ...["", "_2"].flatMap(
    (end) =>
      [
        [[`shoulder_side${end}`, "shoulder"], `elbow${end}`, 0.05],
        [[`elbow${end}`], `wrist${end}`, 0.045],
        [[`hip_side${end}`, "hip"], `knee${end}`, 0.075],
        [[`knee${end}`], `ankle${end}`, 0.06],
      ] as const,
  ),
];
/** A hand is only drawn where nothing else shows it, m. */
const HAND = 0.03;

interface SurroundingsProps extends Omit<Placed, "joints"> {
  room: Room;
  /** How high the wall is drawn, m. */
  top: number;
  scale: number;
}

/** The boxes, pads, ball and wall of the room. */
export function Surroundings({ room, top, x, z, scale }: SurroundingsProps) {
  return (
    <>
      {room.boxes.map((b) => (
        <g key={`${b.words} ${b.start}`}>
          <rect
            x={x(b.start)}
            y={z(b.top)}
            width={Math.max(1, (b.end - b.start) * scale)}
            height={Math.max(1, (b.top - b.bottom) * scale)}
            rx={b.soft ? 5 : 1}
            fill="var(--lightwood)"
            stroke="var(--darkwood)"
          />
          {(b.top - b.bottom) * scale > 22 && (
            <text
              x={x((b.start + b.end) / 2)}
              y={z((b.top + b.bottom) / 2) + 5}
              textAnchor="middle"
              className="fill-ink text-sm"
            >
              {b.words}
            </text>
          )}
        </g>
      ))}
      {room.ball && (
        <circle
          cx={x(room.ball.x)}
          cy={z(room.ball.top / 2)}
          r={(room.ball.top / 2) * scale}
          fill="var(--lightwood)"
          stroke="var(--darkwood)"
        />
      )}
      {room.wall !== null && (
        <line
          x1={x(room.wall)}
          x2={x(room.wall)}
          y1={z(top)}
          y2={z(room.floor)}
          stroke="var(--darkwood)"
          strokeWidth="6"
        />
      )}
    </>
  );
}

interface BodyProps extends Placed {
  floor: number;
  scale: number;
  colour: string;
  opacity?: number;
  hands?: boolean;
}

/** A body of one colour, limb by limb. */
export function Body({ joints, floor, x, z, scale, colour, opacity = 1, hands = false }: BodyProps) {
  const head = joints.ear;
  const limbs = hands
    ? [...LIMBS, [["wrist"], "fingertips", HAND] as const, [["wrist_2"], "fingertips_2", HAND] as const]
    : LIMBS;
  return (
    <g opacity={opacity} stroke={colour} fill={colour} strokeLinecap="round">
      {limbs.map(([from, to, thick]) => {
        const a = joints[from.find((name) => joints[name]) ?? ""];
        const b = joints[to];
        if (!a || !b) return null;
        return (
          <line
            key={from.join() + to}
            x1={x(a[0] ?? 0)}
            y1={z(a[1] ?? 0)}
            x2={x(b[0] ?? 0)}
            y2={z(b[1] ?? 0)}
            strokeWidth={thick * scale}
          />
        );
      })}
      {head && (
        <circle
          cx={x(head[0] ?? 0)}
          cy={z(head[1] ?? 0)}
          r={scale * headOf(head, joints.crown, floor)}
          stroke="none"
        />
      )}
    </g>
  );
}

/** How large a head is, m: up to the crown, but one that rests does not sink into what it rests on. */
function headOf(head: Point, crown: Point | undefined, floor: number): number {
  if (!crown) return 0;
  const up = Math.hypot((crown[0] ?? 0) - (head[0] ?? 0), (crown[1] ?? 0) - (head[1] ?? 0));
  return Math.min(up, Math.max(0.05, (head[1] ?? 0) - floor));
}
