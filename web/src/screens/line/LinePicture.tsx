import { type KeyboardEvent, type PointerEvent, useEffect, useRef } from "react";
import type { Handle, View } from "../../line/points";

interface Props {
  picture: ImageBitmap | HTMLVideoElement | null;
  width: number;
  height: number;
  view: View;
  handles: Handle[];
  /** Which frame of a film is shown: drawn again when it changes. */
  frame?: number;
  /** While the hands are marked: where they were put. */
  onHands?: ((at: { x: number; y: number }) => void) | undefined;
  onMove: (names: string[], dx: number, dy: number) => void;
  label: string;
}

const STEP = 0.004;
const STEPS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

/** The picture with the figure over it: joints that can be taken hold of, and the vertical through the wrist. */
export function LinePicture({ picture, width, height, view, handles, frame, onHands, onMove, label }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const svg = useRef<SVGSVGElement>(null);
  const held = useRef<{ names: string[]; x: number; y: number }>(undefined);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another frame of the same film is another picture
  useEffect(() => {
    const context = canvas.current?.getContext("2d");
    if (!context) return;
    context.clearRect(0, 0, width, height);
    if (picture) context.drawImage(picture, 0, 0, width, height);
  }, [picture, width, height, frame]);
  const at = (event: PointerEvent) => {
    const box = svg.current?.getBoundingClientRect();
    if (!box?.width) return { x: 0, y: 0 };
    return {
      x: ((event.clientX - box.left) / box.width) * width,
      y: ((event.clientY - box.top) / box.height) * height,
    };
  };
  const take = (names: string[]) => (event: PointerEvent<SVGElement>) => {
    event.preventDefault();
    event.currentTarget.focus();
    event.currentTarget.setPointerCapture(event.pointerId);
    held.current = { names, ...at(event) };
  };
  const move = (event: PointerEvent) => {
    if (!held.current) return;
    const now = at(event);
    onMove(held.current.names, now.x - held.current.x, now.y - held.current.y);
    held.current = { ...held.current, ...now };
  };
  const drop = () => {
    held.current = undefined;
  };
  const key = (names: string[]) => (event: KeyboardEvent) => {
    const step = STEPS[event.key];
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const far = height * STEP * (event.shiftKey ? 5 : 1);
    onMove(names, step[0] * far, step[1] * far);
  };
  const dot = height * 0.016;
  const wrists = handles.filter((h) => h.joint.startsWith("wrist"));
  const x = wrists.length ? wrists.reduce((sum, h) => sum + h.x, 0) / wrists.length : null;
  return (
    <div className="relative mx-auto w-fit max-w-full">
      <canvas
        ref={canvas}
        width={width}
        height={height}
        className="block max-h-[min(38rem,74vh)] max-w-full border border-rule bg-sheet"
        style={{ aspectRatio: `${width} / ${height}` }}
      />
      {/* biome-ignore lint/a11y/useSemanticElements: the joints of a drawing belong together */}
      <svg
        ref={svg}
        viewBox={`0 0 ${width} ${height}`}
        className={`absolute inset-0 h-full w-full touch-none ${onHands ? "cursor-crosshair" : ""}`}
        role="group"
        aria-label={label}
        onPointerDown={onHands ? (event) => onHands(at(event)) : undefined}
        onPointerMove={move}
        onPointerUp={drop}
        onPointerCancel={drop}
      >
        {x !== null && (
          <line
            x1={x}
            x2={x}
            y1={0}
            y2={height}
            stroke="#1f5b9e"
            strokeWidth={height * 0.004}
            strokeDasharray={`${height * 0.012} ${height * 0.009}`}
          />
        )}
        <Figure handles={handles} view={view} thick={height * 0.006} />
        {handles.map((h) => (
          // biome-ignore lint/a11y/useSemanticElements: a joint of a drawing
          <g
            key={h.joint}
            role="button"
            tabIndex={0}
            aria-label={`${h.title}: ${Math.round(h.x)}, ${Math.round(h.y)}. Arrow keys move it.`}
            data-joint={h.joint}
            className="cursor-grab outline-none [&:focus-visible_.ring]:opacity-100"
            onPointerDown={onHands ? undefined : take(h.moves)}
            onKeyDown={key(h.moves)}
          >
            <circle cx={h.x} cy={h.y} r={dot * 2.4} fill="transparent" />
            <circle
              className="ring opacity-0"
              cx={h.x}
              cy={h.y}
              r={dot * 1.7}
              fill="none"
              stroke="#1f5b9e"
              strokeWidth={dot * 0.4}
            />
            <circle
              cx={h.x}
              cy={h.y}
              r={dot}
              fill={h.sure ? "#f6f2e9" : "#ecd9b8"}
              stroke="#1d2b27"
              strokeWidth={dot * 0.34}
              strokeDasharray={h.sure ? undefined : `${dot * 0.7} ${dot * 0.4}`}
            />
          </g>
        ))}
      </svg>
    </div>
  );
}

/** Ink from joint to joint; over a picture it keeps its colours in daylight and in the hall. */
function Figure({ handles, view, thick }: { handles: Handle[]; view: View; thick: number }) {
  const sides =
    view === "side"
      ? [handles]
      : ["left", "right"].map((s) => handles.filter((h) => h.joint.includes(` ${s} `)));
  return (
    <>
      {sides.map((joints, n) => (
        <g key={n === 0 ? "one" : "other"}>
          <Stroke joints={joints} colour="#f6f2e9" thick={thick * 2.1} />
          <Stroke joints={joints} colour="#1d2b27" thick={thick} />
        </g>
      ))}
    </>
  );
}

const Stroke = ({ joints, colour, thick }: { joints: Handle[]; colour: string; thick: number }) => (
  <polyline
    points={joints.map((h) => `${h.x},${h.y}`).join(" ")}
    fill="none"
    stroke={colour}
    strokeWidth={thick}
    strokeLinecap="round"
    strokeLinejoin="round"
  />
);
