import { useRef } from "react";
import type { Room } from "../api/client";
import type { JointLabel, Joints, Point } from "./body";
import { Body, Surroundings } from "./FigureParts";
import { Label, Limits, Load, Span, WeightLine } from "./SideWords";
import { useWidth } from "./useWidth";

interface Props {
  joints: Joints;
  /** Whose drawing lies pale behind, to compare. */
  behind?: Joints | undefined;
  centre: Point | null;
  hand: { heel: number; middle: number; pads: number; tips: number };
  /** Fingers point to -x in pikes and push-ups, to +x in handstands and presses. */
  fingers: 1 | -1;
  room: Room;
  labels: JointLabel[];
  /** What the hands carry, as it is said. */
  load: string;
  /** The drawing keeps its scale while this stays the same. */
  scaleKey: string;
  height?: number;
  label: string;
  /** The leans, rad, up to which the weight can be brought back, and how high the weight stands, m. */
  limits?: { over: number; under: number; high: number };
}

/** Room under the floor for what stands there in words, px. */
const UNDER = 74;
const MARGIN = { left: 0.22, right: 0.3, top: 0.12, bottom: 0 };

/** The trainee's own body from the side, to scale: weight line, the hand from heel to fingertips, loads at hands and joints. */
export function SideFigure(props: Props) {
  const {
    joints,
    behind,
    centre,
    hand,
    fingers,
    room,
    labels,
    load,
    scaleKey,
    height: most = 470,
    label,
    limits,
  } = props;
  const [box, width] = useWidth(640);
  const world = useWorld(scaleKey, joints, behind, room);
  const scale = Math.min(width / (world.right - world.left), (most - UNDER) / (world.top - world.bottom));
  const height = useHeight(`${scaleKey} ${width}`, Math.ceil(UNDER + scale * (world.top - world.bottom)));
  const spare = (width - scale * (world.right - world.left)) / 2;
  const x = (m: number) => spare + (m - world.left) * scale;
  const z = (m: number) => height - UNDER - (m - world.bottom) * scale;
  const wrist = joints.wrist ?? [0, 0];
  const wristX = wrist[0] ?? 0;
  const floor = z(room.floor);
  return (
    <div ref={box} className="w-full overflow-hidden">
      <svg width={width} height={height} role="img" aria-label={label}>
        <Surroundings room={room} top={world.top} x={x} z={z} scale={scale} />
        <line x1="0" x2={width} y1={floor} y2={floor} stroke="var(--ink)" strokeWidth="2" />
        {behind && (
          <Body
            joints={behind}
            floor={room.floor}
            x={x}
            z={z}
            scale={scale}
            colour="var(--wood)"
            opacity={0.55}
          />
        )}
        <Body joints={joints} floor={room.floor} x={x} z={z} scale={scale} colour="var(--ink)" />
        <HandOutline
          start={Math.min(x(wristX + fingers * hand.tips), x(wristX + fingers * hand.heel))}
          width={(hand.tips - hand.heel) * scale}
          wristY={z(wrist[1] ?? 0)}
          floor={floor}
          words={fingers < 0 ? "fingertips … heel" : "heel … fingertips"}
        />
        {centre && (
          <WeightLine
            x={x(centre[0] ?? 0)}
            z={z(centre[1] ?? 0)}
            floor={floor}
            top={z(world.top)}
            left={(joints.hip?.[0] ?? 0) >= (centre[0] ?? 0)}
          />
        )}
        {load && <Load words={load} x={x(wristX)} floor={floor} />}
        {limits && <Limits {...limits} x={x} z={z} />}
        {labels.map((l) => (
          <Label key={l.joint + l.words} joints={joints} label={l} weight={centre?.[0] ?? 0} x={x} z={z} />
        ))}
        {room.span && (
          <Span
            from={room.span.start}
            to={room.span.end}
            words={room.span.words}
            width={width}
            x={x}
            y={Math.min(height - 12, floor + 58)}
          />
        )}
      </svg>
    </div>
  );
}

interface HandProps {
  /** Where the hand begins on the left, how wide it is, and where the wrist and the floor lie, px. */
  start: number;
  width: number;
  wristY: number;
  floor: number;
  words: string;
}

/** The hand from heel to fingertips, and which end is which. */
function HandOutline({ start, width, wristY, floor, words }: HandProps) {
  return (
    <>
      <rect
        x={start}
        y={wristY}
        width={width}
        height="9"
        rx="4"
        fill="var(--wood)"
        stroke="var(--darkwood)"
      />
      <text x={start - 8} y={floor + 24} textAnchor="end" className="fill-soft text-sm">
        {words}
      </text>
    </>
  );
}

/** A narrow drawing is a low one, without empty room above it; but it stays as high as it was, so that no dial moves away under the thumb. */
function useHeight(key: string, fits: number): number {
  const kept = useRef({ key, height: fits });
  if (kept.current.key !== key) kept.current = { key, height: fits };
  return kept.current.height;
}

interface Extent {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/** How much of the room is in sight: it only grows while a dial is dragged, so that the scale stands still under the eye. */
function useWorld(key: string, joints: Joints, behind: Joints | undefined, room: Room): Extent {
  const kept = useRef<{ key: string; extent: Extent } | null>(null);
  const xs: number[] = [];
  const zs: number[] = [room.floor];
  for (const point of [...Object.values(joints), ...Object.values(behind ?? {})]) {
    xs.push(point[0] ?? 0);
    zs.push(point[1] ?? 0);
  }
  for (const b of room.boxes) {
    xs.push(b.start, b.end);
    zs.push(b.top);
  }
  if (room.wall !== null) xs.push(room.wall);
  const before = kept.current?.key === key ? kept.current.extent : null;
  const extent = {
    left: Math.min(before?.left ?? Number.POSITIVE_INFINITY, ...xs.map((m) => m - MARGIN.left)),
    right: Math.max(before?.right ?? Number.NEGATIVE_INFINITY, ...xs.map((m) => m + MARGIN.right)),
    top: Math.max(before?.top ?? Number.NEGATIVE_INFINITY, ...zs.map((m) => m + MARGIN.top)),
    bottom: Math.min(before?.bottom ?? Number.POSITIVE_INFINITY, ...zs.map((m) => m - MARGIN.bottom)),
  };
  kept.current = { key, extent };
  return extent;
}
