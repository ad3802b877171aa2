import { useCallback, useEffect, useState } from "react";
import type { DrawnDrill } from "../api/client";
import type { Joints } from "./body";
import { Body, Surroundings } from "./FigureParts";

interface Props {
  drawn: Pick<DrawnDrill, "pictures" | "room" | "title">;
  /** How high it is at most, as a class. */
  size?: string;
  /** Moves once when it appears, where motion is not unwanted, and again on a tap. */
  moves?: boolean;
}

/** Units of the drawing in a metre. */
const UNITS = 100;
const MARGIN = 0.14;
/** There, a short stay, and back: under five seconds, so that nothing has to be stopped. */
const THERE_MS = 1400;
const STAY_MS = 600;

/** How a drill looks: from where it goes in wood, to where it comes in ink, and what it stands on or against. */
export function DrillPicture({ drawn, size = "max-h-52", moves = false }: Props) {
  const { pictures, room, title } = drawn;
  const first = pictures[0] ?? {};
  const last = pictures.at(-1) ?? first;
  const [between, play] = useBlend(pictures, moves && pictures.length > 2);
  const world = extentOf(drawn);
  const x = (m: number) => (m - world.left) * UNITS;
  const z = (m: number) => (world.top - m) * UNITS;
  const shared = { floor: room.floor, x, z, scale: UNITS, hands: true };
  const svg = (
    <svg
      viewBox={`0 0 ${x(world.right)} ${z(world.bottom)}`}
      className={`block w-full ${size}`}
      role="img"
      aria-label={`${title}, drawn`}
    >
      <Surroundings room={room} top={world.top} x={x} z={z} scale={UNITS} />
      <line
        x1="0"
        x2={x(world.right)}
        y1={z(room.floor)}
        y2={z(room.floor)}
        stroke="var(--ink)"
        strokeWidth="2"
      />
      {pictures.length > 1 && <Body {...shared} joints={first} colour="var(--wood)" opacity={0.6} />}
      <Body {...shared} joints={between ?? last} colour="var(--ink)" />
    </svg>
  );
  if (!moves || pictures.length < 3) return svg;
  return (
    <button
      type="button"
      className="block w-full"
      aria-label={`${title}: show the movement`}
      aria-busy={between !== null}
      onClick={play}
    >
      {svg}
    </button>
  );
}

/** The joints while a movement is shown, and what shows it; null while it stands still. */
function useBlend(pictures: readonly Joints[], atOnce: boolean): [Joints | null, () => void] {
  const [began, setBegan] = useState(0);
  const [share, setShare] = useState<number | null>(null);
  const play = useCallback(() => setBegan((n) => n + 1), []);
  useEffect(() => {
    if (atOnce && !window.matchMedia("(prefers-reduced-motion: reduce)").matches) play();
  }, [atOnce, play]);
  useEffect(() => {
    if (began === 0) return;
    const start = performance.now();
    let frame = 0;
    const draw = (now: number) => {
      const gone = now - start;
      if (gone > 2 * THERE_MS + STAY_MS) return setShare(null);
      const there = Math.min(1, gone / THERE_MS);
      const back = Math.max(0, (gone - THERE_MS - STAY_MS) / THERE_MS);
      setShare(there - back);
      frame = requestAnimationFrame(draw);
    };
    frame = requestAnimationFrame(draw);
    return () => cancelAnimationFrame(frame);
  }, [began]);
  return [share === null ? null : blended(pictures, share), play];
}

function blended(pictures: readonly Joints[], share: number): Joints {
  const at = Math.min(pictures.length - 1, Math.max(0, share * (pictures.length - 1)));
  const a = pictures[Math.floor(at)] ?? {};
  const b = pictures[Math.ceil(at)] ?? a;
  const part = at - Math.floor(at);
  return Object.fromEntries(
    Object.entries(a).map(([name, [x = 0, z = 0]]) => {
      const [toX = x, toZ = z] = b[name] ?? [];
      return [name, [x + part * (toX - x), z + part * (toZ - z)]];
    }),
  );
}

/** The part of the room that all pictures of a movement need, m. */
function extentOf({ pictures, room }: Props["drawn"]) {
  const points = pictures.flatMap((p) => Object.values(p));
  const xs = points.map((p) => p[0] ?? 0);
  const zs = points.map((p) => p[1] ?? 0);
  for (const box of room.boxes) {
    xs.push(box.start, box.end);
    zs.push(box.top, box.bottom);
  }
  if (room.wall !== null) xs.push(room.wall);
  return {
    left: Math.min(...xs) - MARGIN,
    right: Math.max(...xs) + MARGIN,
    top: Math.max(...zs) + MARGIN,
    bottom: Math.min(room.floor, ...zs) - 0.04,
  };
}
