import type { LoadWeek } from "../api/client";
import { dayMonth } from "../parts/words";
import { useWidth } from "./useWidth";

const LEFT = 52;
const HIGH = 250;
const FOOT = 30;
const HEAD = 40;

/** The weeks of load as stacked planks, the ramp as a notch over each, pain above them on a thread. */
export function LoadPicture({ weeks, said }: { weeks: LoadWeek[]; said: string }) {
  const [box, wide] = useWidth(640);
  const most = Math.max(300, ...weeks.map((w) => Math.max(w.load_s, w.most_s ?? 0)));
  const slot = (wide - LEFT - 10) / Math.max(1, weeks.length);
  const floor = HIGH - FOOT;
  const y = (s: number) => floor - (s / most) * (floor - HEAD);
  const thick = Math.min(26, slot * 0.62);
  const step = most > 2400 ? 1000 : most > 900 ? 500 : 200;
  const lines = Array.from({ length: Math.floor(most / step) + 1 }, (_, n) => n * step);
  const every = Math.max(1, Math.ceil((weeks.length * 62) / (wide - LEFT)));
  return (
    <div ref={box} className="w-full overflow-hidden">
      <svg
        width={wide}
        height={HIGH}
        role="img"
        aria-label={`Load week by week. ${said} The table below has every week.`}
      >
        {lines.map((s) => (
          <g key={s}>
            <line
              x1={LEFT}
              x2={wide - 10}
              y1={y(s)}
              y2={y(s)}
              stroke={s ? "var(--rule)" : "var(--ink)"}
              strokeWidth={s ? 1 : 2.5}
            />
            <text x={LEFT - 8} y={y(s) + 4} textAnchor="end" fontSize="13" fill="var(--soft)">
              {s} s
            </text>
          </g>
        ))}
        {weeks.map((w, n) => {
          const middle = LEFT + slot * (n + 0.5);
          const other = Math.max(0, w.load_s - w.push_s - w.press_s);
          let at = floor;
          const parts: [string, number][] = [
            ["var(--wood)", other],
            ["var(--darkwood)", w.push_s],
            ["var(--blue)", w.press_s],
          ];
          return (
            <g key={w.week}>
              <title>{`Week of ${dayMonth(w.week)}: ${Math.round(w.load_s)} s${w.pain ? `, ${w.joint} ${w.pain} of 10` : ""}`}</title>
              {parts.map(([colour, seconds]) => {
                const tall = floor - y(seconds);
                at -= tall;
                return tall > 0.2 ? (
                  <rect
                    key={colour}
                    x={middle - thick / 2}
                    y={at}
                    width={thick}
                    height={tall}
                    fill={colour}
                    fillOpacity={w.running ? 0.6 : 1}
                  />
                ) : null;
              })}
              {w.most_s !== null && (
                <line
                  x1={middle - slot * 0.45}
                  x2={middle + slot * 0.45}
                  y1={y(w.most_s)}
                  y2={y(w.most_s)}
                  stroke={w.beyond ? "var(--brick)" : "var(--soft)"}
                  strokeWidth={w.beyond ? 3 : 2}
                  strokeDasharray={w.beyond ? undefined : "3 3"}
                />
              )}
              {w.pain !== null && w.pain > 0 && (
                <g>
                  <line
                    x1={middle}
                    x2={middle}
                    y1={24}
                    y2={at - 2}
                    stroke="var(--brick)"
                    strokeDasharray="2 3"
                  />
                  <circle
                    cx={middle}
                    cy={14}
                    r="9.5"
                    fill="var(--paper)"
                    stroke="var(--brick)"
                    strokeWidth="2"
                  />
                  <text
                    x={middle}
                    y={18.5}
                    textAnchor="middle"
                    fontSize="13"
                    fontWeight="700"
                    fill="var(--brick)"
                  >
                    {w.pain}
                  </text>
                </g>
              )}
              {n % every === 0 && (
                <text x={middle} y={floor + 18} textAnchor="middle" fontSize="13" fill="var(--soft)">
                  {dayMonth(w.week)}
                </text>
              )}
            </g>
          );
        })}
      </svg>
    </div>
  );
}
