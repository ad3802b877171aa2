import { useId } from "react";
import type { MeasureStory } from "../api/client";
import { atNoon, dayMonth } from "../parts/words";
import { useWidth } from "./useWidth";

const LEFT = 62;
const HEAD = 46;
const DAY_MS = 86_400_000;
/** The thickness of a ray: the middle of what may come is the likeliest. */
const THICK = [1.5, 2.5, 5, 2.5, 1.5];
const PIN_ROWS = 3;
/** From here on a pin's words would run into the next one's. */
const PIN_WIDE = 150;

interface Props {
  story: MeasureStory;
  /** The day it is told on. */
  on: string;
  /** The highest share of the gate that has to find room, where two pictures share a scale. */
  most?: number;
  height?: number;
  label: string;
}

/**
 * A measure as planks standing on the floor, a day each, under the beam of its gate. A plank of a test is dark; what was done as asked is open at its top,
 * since more may have gone; what the trainee told alone is hatched. From the level of today rays go out to where a day's best may lie in the weeks to come.
 */
export function MeasurePicture({ story, on, most = 0, height = 380, label }: Props) {
  const [box, wide] = useWidth(760);
  const alone = useId();
  const { points, rays, events } = story;
  const narrow = wide < 520;
  const first = points[0]?.day ?? on;
  const weeksAhead = rays.at(-1)?.week ?? 0;
  const past = Math.max(28, (atNoon(on).getTime() - atNoon(first).getTime()) / DAY_MS);
  const right = wide - (narrow ? 16 : 28);
  // what lies ahead keeps a part of the width that can be read, however long or short the past is
  const natural = ((right - LEFT) * weeksAhead * 7) / (past + weeksAhead * 7);
  const ahead = weeksAhead ? Math.min(0.36, Math.max(0.24, natural / (right - LEFT))) * (right - LEFT) : 0;
  const perDay = (right - LEFT - ahead - 20) / past;
  const x = (iso: string) => LEFT + 6 + ((atNoon(iso).getTime() - atNoon(first).getTime()) / DAY_MS) * perDay;
  const now = LEFT + 6 + past * perDay + 8;
  const xAhead = (week: number) => now + 9 + (week / Math.max(1, weeksAhead)) * (right - now - 9);
  const pins = place(
    events.map((e) => ({ at: x(e.day), words: e.words, kind: e.kind })),
    right,
  );
  const floor = height - 28 - 20 * (1 + Math.max(-1, ...pins.map((pin) => pin.row)));
  const top = Math.max(
    1.12,
    most,
    ...points.map((p) => p.share),
    ...rays.flatMap((r) => r.shares.slice(0, 4)),
  );
  const y = (share: number) => floor - (Math.min(share, top) / top) * (floor - HEAD);
  const thick = Math.max(2.5, Math.min(11, perDay * 2.4));
  return (
    <div ref={box} className="w-full overflow-hidden">
      <svg width={wide} height={height} role="img" aria-label={`${label}: ${spoken(story)}`}>
        <defs>
          <pattern
            id={alone}
            width="5"
            height="5"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <rect width="2.5" height="5" fill="var(--darkwood)" />
          </pattern>
        </defs>
        {story.ticks
          .filter((_, n) => n === 1 || y(0) - y(0.25) > 17)
          .map((t) => (
            <g key={t.share}>
              <line x1={LEFT} x2={now} y1={y(t.share)} y2={y(t.share)} stroke="var(--rule)" />
              <text x={LEFT - 8} y={y(t.share) + 4} textAnchor="end" fontSize="13" fill="var(--soft)">
                {t.said}
              </text>
            </g>
          ))}
        <rect x={LEFT} y={y(1) - 5} width={right - LEFT} height="10" fill="var(--wood)" />
        <rect x={LEFT} y={y(1) + 4} width={right - LEFT} height="2.5" fill="var(--darkwood)" />
        <text x={LEFT} y={y(1) - 11} fontSize="14" fontWeight="700" fill="var(--ink)">
          gate: {story.gate_words}
        </text>
        {points.map((p) => (
          <Plank
            key={`${p.day} ${p.bound}`}
            at={x(p.day)}
            high={y(p.share)}
            floor={floor}
            thick={thick}
            point={p}
            alone={alone}
          />
        ))}
        {rays.length > 0 && story.level_shares.length === 3 && (
          <g>
            {THICK.map((thickness, k) => (
              <polyline
                // biome-ignore lint/suspicious/noArrayIndexKey: a ray is its place
                key={k}
                points={[
                  [now + 9, y(story.level_shares[1] ?? 0)],
                  ...rays.map((r) => [xAhead(r.week), y(r.shares[k] ?? 0)]),
                ]
                  .map((xy) => xy.map((v) => (v ?? 0).toFixed(1)).join(","))
                  .join(" ")}
                fill="none"
                stroke="var(--wood)"
                strokeOpacity={k === 2 ? 0.95 : 0.6}
                strokeWidth={thickness}
              />
            ))}
            <rect
              x={now - 9}
              y={y(story.level_shares[2] ?? 0)}
              width="18"
              height={Math.max(4, y(story.level_shares[0] ?? 0) - y(story.level_shares[2] ?? 0))}
              fill="var(--lightwood)"
              stroke="var(--darkwood)"
            />
            <rect
              x={now - 9}
              y={y(story.level_shares[1] ?? 0) - 2}
              width="18"
              height="4"
              fill="var(--blue)"
            />
          </g>
        )}
        <line x1={LEFT} x2={right} y1={floor} y2={floor} stroke="var(--ink)" strokeWidth="2.5" />
        <Days first={first} on={on} x={x} now={now} floor={floor} narrow={narrow} />
        {rays.length > 0 &&
          [4, 8, 12].map((week) => (
            <text
              key={week}
              x={xAhead(week)}
              y={floor + 19}
              textAnchor={week === 12 ? "end" : "middle"}
              fontSize="13"
              fill="var(--soft)"
            >
              {narrow || week !== 4 ? week : "4 weeks"}
            </text>
          ))}
        {pins.map((pin) => (
          <Pin key={`${pin.at} ${pin.words}`} {...pin} floor={floor} right={right} />
        ))}
      </svg>
    </div>
  );
}

interface PlankProps {
  at: number;
  high: number;
  floor: number;
  thick: number;
  point: MeasureStory["points"][number];
  /** The hatching of what was told alone. */
  alone: string;
}

function Plank({ at, high, floor, thick, point, alone }: PlankProps) {
  const fill =
    point.by === "test" ? "var(--darkwood)" : point.by === "self" ? `url(#${alone})` : "var(--wood)";
  const tall = Math.max(2, floor - high);
  return (
    <g>
      <title>{`${dayMonth(point.day)}: ${point.bound ? "at least " : ""}${point.said}${point.by === "self" ? ", told alone" : ""}${point.clean ? "" : ", not clean"}`}</title>
      <rect
        x={at - thick / 2}
        y={floor - tall}
        width={thick}
        height={tall}
        fill={point.bound ? "none" : fill}
        stroke={point.bound || point.by === "self" ? "var(--darkwood)" : "none"}
        strokeDasharray={point.bound ? "3 2" : undefined}
        fillOpacity={point.clean ? 1 : 0.45}
      />
      {point.bound && (
        <path
          d={`M${at - thick / 2} ${high - 3}l${thick / 2} -4l${thick / 2} 4`}
          fill="none"
          stroke="var(--darkwood)"
          strokeWidth="1.5"
        />
      )}
    </g>
  );
}

interface DaysProps {
  first: string;
  on: string;
  x: (iso: string) => number;
  now: number;
  floor: number;
  narrow: boolean;
}

/** The first of months along the floor, as many as find room, and today. */
function Days({ first, on, x, now, floor, narrow }: DaysProps) {
  const months: string[] = [];
  const begin = atNoon(first);
  for (let n = 1; n < 60; n++) {
    const day = new Date(begin.getFullYear(), begin.getMonth() + n, 1, 12);
    if (day > atNoon(on)) break;
    months.push(`${day.getFullYear()}-${String(day.getMonth() + 1).padStart(2, "0")}-01`);
  }
  const room = (months.length * (narrow ? 70 : 76)) / Math.max(1, now - x(first));
  const every = Math.max(1, Math.ceil(room));
  return (
    <g fontSize="13" fill="var(--soft)">
      {months
        .filter((_, n) => n % every === 0)
        .filter((m) => now - x(m) > 46)
        .map((m) => (
          <text key={m} x={x(m)} y={floor + 19} textAnchor="middle">
            {dayMonth(m)}
          </text>
        ))}
      <text x={now} y={floor + 19} textAnchor="middle" fill="var(--ink)">
        today
      </text>
    </g>
  );
}

interface Placed {
  at: number;
  words: string;
  kind: MeasureStory["events"][number]["kind"];
  row: number;
}

/** Put pins on rows so that their words stand free; what finds no room keeps its pin alone. */
function place(pins: Omit<Placed, "row">[], right: number): Placed[] {
  const ends: number[] = Array.from({ length: PIN_ROWS }, () => 0);
  return pins.map((pin) => {
    const row = ends.findIndex((end) => pin.at - 6 >= end);
    if (row >= 0) ends[row] = Math.min(right, pin.at + Math.min(PIN_WIDE, 22 + pin.words.length * 7));
    return { ...pin, row };
  });
}

const LONGEST = 30;

function Pin({ at, words, kind, row, floor, right }: Placed & { floor: number; right: number }) {
  const colour = kind === "pain" || kind === "caution" ? "var(--brick)" : "var(--soft)";
  const y = floor + 36 + 20 * Math.max(0, row);
  const short = words.length > LONGEST ? `${words.slice(0, LONGEST - 1)}…` : words;
  const back = at + 12 + short.length * 6.6 > right;
  return (
    <g>
      <title>{words}</title>
      <line x1={at} x2={at} y1={floor} y2={y - 4} stroke={colour} strokeWidth="1.5" />
      <circle cx={at} cy={y} r="4" fill="var(--paper)" stroke={colour} strokeWidth="2" />
      {row >= 0 && (
        <text
          x={back ? at - 9 : at + 9}
          y={y + 4.5}
          textAnchor={back ? "end" : "start"}
          fontSize="13"
          fill={colour}
        >
          {short}
        </text>
      )}
    </g>
  );
}

function spoken(story: MeasureStory) {
  const last = story.points.at(-1);
  const many = `${story.points.length} days, gate ${story.gate_words}`;
  return last
    ? `${many}, last ${last.said} on ${dayMonth(last.day)}. ${story.headline} ${story.sentence}`
    : many;
}
