import type { SinceWeBegan } from "../../api/client";
import { Drawing } from "../../parts/Drawing";
import { dayMonth } from "../../parts/words";

const WIDE = 520;
const ROW = 26;
const HEAD = 92;

/** A card to hand over: the firsts of a trainee with their days, drawn as rungs of one ladder. No photo, no health. */
export function SinceCard({ name, card }: { name: string; card: SinceWeBegan }) {
  if (!card.since) return null;
  const high = HEAD + card.firsts.length * ROW + 18;
  const years = new Set(card.firsts.map((f) => f.day.slice(0, 4))).size > 1;
  const said = (iso: string) => (years ? `${dayMonth(iso)} ${iso.slice(0, 4)}` : dayMonth(iso));
  return (
    <section aria-label="Since we began">
      <h2 className="mb-2 text-xl">Since we began</h2>
      <Drawing name="since-we-began" words="Save the card">
        <div className="max-w-[33rem] border border-rule bg-sheet">
          <svg
            viewBox={`0 0 ${WIDE} ${high}`}
            width={WIDE}
            height={high}
            className="h-auto w-full"
            role="img"
            aria-label={`${name}, since ${said(card.since)}: ${card.days} days of practice, ${card.many} firsts. ${card.firsts.map((f) => `${f.title} on ${said(f.day)}`).join(", ")}`}
          >
            <rect width={WIDE} height={high} fill="var(--sheet)" />
            <text x="28" y="38" fontSize="24" fontWeight="700" fill="var(--ink)" className="font-head">
              {name}
            </text>
            <text x="28" y="62" fontSize="14" fill="var(--soft)">
              since {dayMonth(card.since)} {card.since.slice(0, 4)}: {card.days} days of practice, {card.many}{" "}
              firsts
            </text>
            {[28, WIDE - 28].map((x) => (
              <line
                key={x}
                x1={x}
                x2={x}
                y1={HEAD - 14}
                y2={high - 6}
                stroke="var(--darkwood)"
                strokeWidth="4"
              />
            ))}
            {[...card.firsts].reverse().map((f, n) => (
              <g key={f.drill}>
                <line
                  x1="28"
                  x2={WIDE - 28}
                  y1={HEAD + n * ROW + 8}
                  y2={HEAD + n * ROW + 8}
                  stroke="var(--wood)"
                  strokeWidth="3"
                />
                <text x="40" y={HEAD + n * ROW + 2} fontSize="14" fill="var(--ink)">
                  {f.title}
                  {f.amount && <tspan fill="var(--soft)"> {f.amount}</tspan>}
                </text>
                <text x={WIDE - 40} y={HEAD + n * ROW + 2} textAnchor="end" fontSize="14" fill="var(--soft)">
                  {said(f.day)}
                </text>
              </g>
            ))}
          </svg>
        </div>
      </Drawing>
    </section>
  );
}
