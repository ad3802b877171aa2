import type { Fell, Mode } from "../api/client";
import { FELL, figure, measured } from "../parts/words";
import { useWidth } from "./useWidth";

/** One try as the strip draws it. */
export interface Stroke {
  number: number;
  outcome: string;
  value: number | null;
  level: number | null;
  fell: Fell | null;
  side?: "left" | "right" | null;
  early?: boolean;
}

interface Props {
  tries: Stroke[];
  /** The way they were measured, which says what a stroke means. */
  mode: Mode;
  /** What they are held against: a line across the picture. */
  line: number | null;
  /** How many places the strip has. */
  of: number;
  /** The figure of the try going on now. */
  now?: number | null;
  height?: number;
  small?: boolean;
  label: string;
}

/** All tries as one picture: a figure rises from the floor and leans the way it fell; a setting hangs at its height; what has neither is a mark. */
export function TryStrip({ tries, mode, line, of, now = null, height = 150, small = false, label }: Props) {
  const [box, width] = useWidth(600);
  const floor = height - (small ? 22 : 42);
  // room at both ends for a foot that leans out
  const pad = 12;
  const slot = (width - 2 * pad) / Math.max(of, tries.length, 1);
  const thick = small ? 8 : Math.min(14, slot / 4);
  const x = (place: number) => pad + (place + 0.5) * slot;
  const wide = slot > 72 && !small;
  const roomy = slot > 48 && !small;
  const rise = scale(tries, mode, line, now, floor);
  // below the floor there is more to see: hands stand raised, and the head goes deeper
  const ground = mode.ladder?.dial.endsWith("height") ? rise(0) : floor;
  const lineAt =
    line === null || mode.takes === "mark" ? (mode.ladder && line !== null ? rise(line) : null) : rise(line);
  return (
    <div ref={box} className="w-full overflow-hidden">
      <svg width={width} height={height} role="img" aria-label={`${label}: ${spoken(tries, mode)}`}>
        {lineAt !== null && line !== null && (
          <AcrossLine
            y={lineAt}
            width={width}
            size={small ? 11 : 13}
            words={mode.ladder ? figure(line, mode) : measured(line, null, mode.measure)}
          />
        )}
        {now !== null && (
          <rect
            x={x(tries.length) - slot * 0.4}
            y={lineAt ?? 16}
            width={slot * 0.8}
            height={floor - (lineAt ?? 16)}
            fill="var(--tint)"
          />
        )}
        <line x1="0" x2={width} y1={ground} y2={ground} stroke="var(--ink)" strokeWidth={small ? 1.5 : 2.5} />
        {tries.map((t, place) => (
          <g key={t.number}>
            <OneTry t={t} mode={mode} x={x(place)} floor={floor} ground={ground} rise={rise} thick={thick} />
            <TryWords
              t={t}
              words={under(t, mode, wide, roomy)}
              x={x(place)}
              y={height - (small ? 4 : 10)}
              wide={wide}
              small={small}
            />
          </g>
        ))}
        {now !== null && (
          <line
            x1={x(tries.length)}
            x2={x(tries.length)}
            y1={floor}
            y2={Math.min(floor - 2, rise(now))}
            stroke="var(--blue)"
            strokeWidth={thick}
            strokeLinecap="round"
          />
        )}
        {!small && (
          <PlacesAhead
            from={tries.length}
            of={of}
            underWay={now !== null}
            wide={wide}
            x={x}
            y={height - 10}
          />
        )}
      </svg>
    </div>
  );
}

interface AcrossProps {
  y: number;
  width: number;
  size: number;
  words: string;
}

/** What the tries are held against, as a line across the picture. */
function AcrossLine({ y, width, size, words }: AcrossProps) {
  return (
    <>
      <line x1="0" x2={width} y1={y} y2={y} stroke="var(--blue)" strokeWidth="1.5" strokeDasharray="3 5" />
      <text x={width} y={y - 5} textAnchor="end" fill="var(--blue)" fontSize={size}>
        {words}
      </text>
    </>
  );
}

interface TryWordsProps {
  t: Stroke;
  words: string;
  x: number;
  y: number;
  wide: boolean;
  small: boolean;
}

/** A try's figure under it, and above it the side and whether it was begun before the rest was over. */
function TryWords({ t, words, x, y, wide, small }: TryWordsProps) {
  const bare = t.value === null && t.level === null;
  return (
    <>
      {words && (
        <text
          x={x}
          y={y}
          textAnchor="middle"
          fill={bare ? "var(--soft)" : "var(--ink)"}
          fontWeight={bare ? 400 : 700}
          fontSize={small ? 11.5 : wide && t.value !== null ? 17 : wide ? 14 : 12.5}
        >
          {words}
        </text>
      )}
      {(t.early || t.side) && !small && (
        <text x={x} y={12} textAnchor="middle" fill="var(--soft)" fontSize="12">
          {[t.side, t.early ? "early" : ""].filter(Boolean).join(", ")}
        </text>
      )}
    </>
  );
}

interface PlacesProps {
  from: number;
  of: number;
  /** The first of them is being tried now. */
  underWay: boolean;
  wide: boolean;
  x: (place: number) => number;
  y: number;
}

/** The numbers of the tries still to come. */
function PlacesAhead({ from, of, underWay, wide, x, y }: PlacesProps) {
  return Array.from({ length: Math.max(0, of - from) }, (_, i) => from + i).map((place) => {
    const present = underWay && place === from;
    return (
      <text
        key={place}
        x={x(place)}
        y={y}
        textAnchor="middle"
        fill={present ? "var(--blue)" : "var(--faint)"}
        fontWeight={present ? 700 : 400}
        fontSize="14"
      >
        {present && wide ? `try ${place + 1}` : place + 1}
      </text>
    );
  });
}

/** Where a figure or setting lies. Figures rise from the floor; settings spread over the height, harder always higher. */
function scale(tries: Stroke[], mode: Mode, line: number | null, now: number | null, floor: number) {
  if (mode.ladder) {
    const levels = [
      ...tries.flatMap((t) => (t.level === null ? [] : [t.level])),
      ...(line === null ? [] : [line]),
    ];
    const { easiest, hardest, notch, dial } = mode.ladder;
    // a height is drawn where it is, over the floor or below it; a distance grows upward as it grows harder
    const real = dial.endsWith("height");
    const down = !real && hardest < easiest;
    const far = notch.value;
    const low = real
      ? Math.min(0, ...levels)
      : down
        ? Math.max(...levels, hardest) + far
        : Math.min(...levels, easiest) - far;
    const high =
      real || !down ? Math.max(...levels, low + 4 * far) + far : Math.min(...levels, easiest) - far;
    return (level: number) => floor - ((level - low) / (high - low || 1)) * (floor - 16);
  }
  const most = Math.max(line ?? 0, now ?? 0, ...tries.map((t) => t.value ?? 0), 1);
  const top = mode.ceiling
    ? mode.ceiling.value
    : Math.min(most, line ? Math.max(line * 1.2, Math.min(most, line * 2)) : most);
  const unit = (floor - 16) / (top * 1.05);
  return (value: number) => floor - Math.min(Math.max(value, 0), top) * unit;
}

function under(t: Stroke, mode: Mode, wide: boolean, roomy: boolean): string {
  if (mode.ladder) return t.level === null ? "" : wide ? figure(t.level, mode) : String(t.level);
  if (t.value === null) return roomy ? short(t.outcome) : "";
  return wide ? figure(t.value, mode) : figure(t.value, mode).replace(/ s$/, "");
}

const short = (outcome: string) => outcome.replaceAll("-", " ");

const spoken = (tries: Stroke[], mode: Mode) =>
  tries.length
    ? tries
        .map((t) =>
          [
            t.number,
            t.side ?? "",
            short(t.outcome),
            t.level === null ? "" : `at ${figure(t.level, mode)}`,
            t.value === null ? "" : figure(t.value, mode),
          ]
            .filter((part) => part !== "")
            .join(" ")
            .concat(t.fell ? `, ${FELL[t.fell]}` : ""),
        )
        .join("; ")
    : "no try yet";

interface OneProps {
  t: Stroke;
  mode: Mode;
  x: number;
  floor: number;
  ground: number;
  rise: (value: number) => number;
  thick: number;
}

function OneTry({ t, mode, x, floor, ground, rise, thick }: OneProps) {
  if (mode.ladder && t.level !== null)
    return <Setting x={x} y={rise(t.level)} floor={ground} passed={passes(t, mode)} thick={thick} />;
  if (t.value !== null) return <Held x={x} floor={floor} top={rise(t.value)} thick={thick} fell={t.fell} />;
  const place = [...new Set(mode.marks.filter((m) => !m.figure).map((m) => m.outcome))].indexOf(t.outcome);
  // with a figure beside them the marks say over and short of; alone they say how well it went
  const alone = !mode.marks.some((m) => m.figure);
  return alone ? (
    <Marked x={x} floor={floor} rank={place} thick={thick} />
  ) : (
    <Passed x={x} floor={floor} over={place === 0} thick={thick} />
  );
}

const passes = (t: Stroke, mode: Mode) => mode.marks.some((m) => m.outcome === t.outcome && m.passed);

function Held({
  x,
  floor,
  top,
  thick,
  fell,
}: {
  x: number;
  floor: number;
  top: number;
  thick: number;
  fell: Fell | null;
}) {
  const lean = fell === "over" ? 1 : fell === "under" ? -1 : 0;
  const foot = lean ? ` l ${lean * thick * 1.9} ${-thick * 0.75}` : "";
  return (
    <path
      d={`M ${x} ${floor} L ${x} ${Math.min(top, floor - 2)}${foot}`}
      fill="none"
      stroke="var(--darkwood)"
      strokeWidth={thick}
      strokeLinecap="round"
      strokeLinejoin="round"
    />
  );
}

/** A setting hangs at its height: a plank where it went well, an open one where it was missed. */
function Setting({
  x,
  y,
  floor,
  passed,
  thick,
}: {
  x: number;
  y: number;
  floor: number;
  passed: boolean;
  thick: number;
}) {
  const half = thick * 2;
  return (
    <>
      <line x1={x} x2={x} y1={floor} y2={y} stroke="var(--rule)" strokeWidth="2" />
      <rect
        x={x - half}
        y={y - thick / 2}
        width={half * 2}
        height={thick}
        rx={thick / 4}
        fill={passed ? "var(--darkwood)" : "var(--paper)"}
        stroke={passed ? "var(--darkwood)" : "var(--soft)"}
        strokeWidth="2"
        strokeDasharray={passed ? undefined : "3 3"}
      />
    </>
  );
}

/** Without any figure: full height for the best outcome, half with a flat head for the next, a low mark for the last. */
function Marked({ x, floor, rank, thick }: { x: number; floor: number; rank: number; thick: number }) {
  const high = floor - 16;
  if (rank === 0) return <Held x={x} floor={floor} top={floor - high * 0.85} thick={thick} fell={null} />;
  if (rank === 1)
    return (
      <path
        d={`M ${x} ${floor} V ${floor - high * 0.45} M ${x - thick * 1.6} ${floor - high * 0.45} H ${x + thick * 1.6}`}
        fill="none"
        stroke="var(--wood)"
        strokeWidth={thick}
        strokeLinecap="butt"
      />
    );
  return <Passed x={x} floor={floor} over={false} thick={thick} />;
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
