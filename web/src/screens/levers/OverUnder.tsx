import { useState } from "react";
import type { LeversPage } from "../../api/client";
import { useOverUnder, usePosition } from "../../api/hooks";
import { SideFigure } from "../../drawings/SideFigure";
import { Problem, Waiting } from "../../parts/Message";
import { Dial } from "./Dials";
import { Figures } from "./Figures";

const BARE = { floor: 0, boxes: [], wall: null, ball: null, span: null };

/** How far and how fast a handstand may lean before the hands cannot bring it back. */
export function OverUnder({ page, lever }: { page: LeversPage; lever: string }) {
  const [lean, setLean] = useState(2);
  const [rate, setRate] = useState(0);
  const standing = usePosition(page.trainee.id, lever, {});
  const found = useOverUnder(page.trainee.id, lean, rate);
  if (!found.data) return found.error ? <Problem error={found.error} /> : <Waiting />;
  const { save, saveable, words, hand, joints, centre } = found.data;
  return (
    <div
      className="grid gap-x-10 gap-y-4 grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_26rem]"
      aria-busy={found.isPlaceholderData}
    >
      <SideFigure
        joints={joints}
        centre={centre}
        hand={hand}
        fingers={1}
        room={BARE}
        labels={[]}
        load=""
        scaleKey={`over ${page.trainee.id}`}
        height={520}
        limits={{
          over: (found.data.over_limit_deg * Math.PI) / 180,
          under: (found.data.under_limit_deg * Math.PI) / 180,
          high: found.data.com_height,
        }}
        label={`A handstand ${found.data.lean_deg}° from vertical, ${found.data.lean_rate_deg_s}° a second: ${words}`}
      />
      <section aria-label="Can it be saved">
        <p
          data-testid="save"
          data-lean={found.data.lean_deg}
          data-rate={found.data.lean_rate_deg_s}
          className={`border-l-8 pl-4 font-head text-4xl font-bold ${saveable ? "border-blue" : "border-brick text-brick"}`}
        >
          {words}
        </p>
        <p className="mt-1 text-lg">{save.advice}</p>
        <HandPicture hand={hand} at={save.at} />
        <p className="mb-3 text-sm text-soft">
          Standing still: {found.data.over_limit_deg.toFixed(1)}° over at most,{" "}
          {Math.abs(found.data.under_limit_deg).toFixed(1)}° under. That is why the weight belongs over the
          middle of the hand.
        </p>
        <Dial
          title="Lean toward the fingers"
          unit="°"
          least={-10}
          most={20}
          step={0.5}
          value={lean}
          onSet={setLean}
        />
        {page.own_lean && (
          <p className="mb-3 flex flex-wrap items-center gap-x-3">
            {page.own_lean.words}
            <button
              type="button"
              className="min-h-6 underline"
              onClick={() => {
                setLean(page.own_lean?.lean_deg ?? 0);
                setRate(0);
              }}
            >
              Set the dial to it
            </button>
          </p>
        )}
        <Dial
          title="How fast, a second"
          unit="°"
          least={-60}
          most={60}
          step={1}
          value={rate}
          onSet={setRate}
        />
        {standing.data?.views[0] && (
          <Figures
            small
            figures={standing.data.views[0].figures}
            notes={page.figures}
            size={page.size}
            position={standing.data}
            knobs={[]}
          />
        )}
        <p className="mt-2 text-sm text-soft">
          Over is past the hands: fingers press. Under is back to the start side: fingers lift, shoulders
          close. A straight, stiff body; {page.figures.over_limit_deg?.source}. Nothing away from the wall
          before exits are proven.
        </p>
      </section>
    </div>
  );
}

/** The hand from the side, and where the weight is heading over it. */
function HandPicture({
  hand,
  at,
}: {
  hand: { heel: number; middle: number; pads: number; tips: number };
  at: number;
}) {
  const [left, right] = [-0.14, 0.34];
  const x = (m: number) => (400 * (Math.max(left, Math.min(right, m)) - left)) / (right - left);
  const lost = at > hand.pads || at < hand.heel;
  return (
    <svg
      viewBox="0 0 400 96"
      className="my-3 w-full"
      role="img"
      aria-label={`The weight is heading ${Math.round(at * 100)} cm ahead of the wrist`}
    >
      <rect
        x={x(hand.heel)}
        y="52"
        width={x(hand.tips) - x(hand.heel)}
        height="16"
        rx="8"
        fill="var(--lightwood)"
        stroke="var(--darkwood)"
      />
      <rect
        x={x(hand.heel)}
        y="52"
        width={x(hand.pads) - x(hand.heel)}
        height="16"
        fill="var(--wood)"
        stroke="var(--darkwood)"
      />
      <line x1={x(0)} x2={x(0)} y1="46" y2="74" stroke="var(--ink)" strokeWidth="2" />
      <text x={x(hand.heel) - 4} y="88" textAnchor="end" className="fill-soft text-[13px]">
        heel
      </text>
      <text x={x(hand.middle)} y="88" textAnchor="middle" className="fill-soft text-[13px]">
        middle
      </text>
      <text x={x(hand.tips) + 4} y="88" className="fill-soft text-[13px]">
        fingers
      </text>
      <path
        d={`M${x(at)} 8 v34 m-8 -10 l8 10 l8 -10`}
        fill="none"
        stroke={lost ? "var(--brick)" : "var(--blue)"}
        strokeWidth="4"
      />
      <text
        x={x(at) + (at > 0.2 ? -12 : 12)}
        y="22"
        textAnchor={at > 0.2 ? "end" : "start"}
        className="fill-ink text-[14px]"
      >
        heading for {(at * 100).toFixed(1)} cm
      </text>
    </svg>
  );
}
