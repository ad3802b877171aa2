import type { Road, Chance as Said } from "../../api/client";
import { dayMonth } from "../../parts/words";

const WEEKS = ["4", "8", "12", "26"] as const;
const SHOWN = 8;

/** The road to a goal: what fell when, what remains in its order, and the chance of each. */
export function RoadView({ road }: { road: Road }) {
  return (
    <section aria-label="The road">
      <h2 className="text-xl">The road to {road.title.slice(0, 1).toLowerCase() + road.title.slice(1)}</h2>
      <p className="mb-2">{road.sentence}</p>
      {road.ahead.length > 0 && (
        <div className="overflow-x-auto">
          <table className="w-full text-left">
            <thead className="text-sm text-soft">
              <tr>
                <th scope="col" className="font-normal">
                  Still ahead
                </th>
                {WEEKS.map((w) => (
                  <th key={w} scope="col" className="w-14 pl-2 font-normal">
                    {w === "4" ? "in 4 wk" : w}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {road.ahead.slice(0, SHOWN).map((a) => (
                <tr key={a.drill} className="border-t border-rule align-top">
                  <th scope="row" className="py-1 pr-3 font-normal">
                    <b>{a.title}</b>
                    <span className="block text-sm text-soft">
                      {a.open ? `${a.sentence}.` : "Not open yet."}
                    </span>
                  </th>
                  {Object.keys(a.chances).length > 0 ? (
                    WEEKS.map((w) => (
                      <td key={w} className="py-1.5 pl-2">
                        {a.chances[w] && <Chance of={a.chances[w]} />}
                      </td>
                    ))
                  ) : (
                    <td colSpan={4} className="py-1 pl-2 text-sm text-soft">
                      {a.open ? a.because : ""}
                    </td>
                  )}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {road.ahead.length > SHOWN && (
        <p className="text-sm text-soft">And {road.ahead.length - SHOWN} more after these.</p>
      )}
      {road.fallen.length > 0 && (
        <details className="mt-2" open={road.ahead.length < 4}>
          <summary className="min-h-6 cursor-pointer text-soft">
            Passed, the newest first: {road.fallen.length}
          </summary>
          <ol className="columns-2 gap-8 text-sm max-sm:columns-1">
            {[...road.fallen].reverse().map((f) => (
              <li key={f.drill} className="flex justify-between gap-3 border-b border-rule py-0.5">
                <span>{f.title}</span>
                <span className="shrink-0 text-soft tabular-nums">
                  {dayMonth(f.day)}
                  {f.proven_on ? "" : ", once"}
                </span>
              </li>
            ))}
          </ol>
        </details>
      )}
    </section>
  );
}

/** A chance as a plank that fills, with its figure. */
function Chance({ of }: { of: Said }) {
  return (
    <span className="block text-sm tabular-nums">
      {of.said}
      <span className="block h-2 w-12 bg-lightwood" aria-hidden="true">
        <span className="block h-2 bg-darkwood" style={{ width: `${100 * of.chance}%` }} />
      </span>
    </span>
  );
}
