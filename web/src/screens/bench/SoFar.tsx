import type { JudgedRun, ScoredRun } from "../../api/client";
import { between, day, secs } from "../../parts/words";

interface Props {
  judged: JudgedRun | undefined;
  kept: number;
  waiting: number;
  last: ScoredRun | undefined;
}

/** The running figures, as the core counts them from what the server has. */
export function SoFar({ judged, kept, waiting, last }: Props) {
  const s = judged?.scored.score;
  const behind = s ? kept !== s.n : kept > 0;
  return (
    <section aria-label="So far">
      <h2 className="font-sans text-sm font-normal text-soft">
        So far{behind && waiting ? `, up to try ${s?.n ?? 0}; ${waiting} on the way to the server` : ""}
      </h2>
      {s && s.n > 0 ? (
        <Figures s={s} />
      ) : (
        <p className="py-3 text-soft">The figures come with the first try.</p>
      )}
      {last && (
        <p className="mt-3 text-sm text-soft">
          Last time, {day(last.run.started_at)}: held {last.score.held} of {last.score.n}, mean{" "}
          {secs(last.score.mean_hold_s)}
        </p>
      )}
    </section>
  );
}

export function Figures({ s }: { s: ScoredRun["score"] }) {
  const reached = s.held + s.overshot;
  const long = Math.round((s.ten_second_share ?? 0) * s.n);
  const rows: [string, string, string][] = [
    ["held", `${s.held} of ${s.n}`, between(s.held_interval)],
    ["reached vertical", `${reached} of ${s.n}`, s.overshot ? `${s.overshot} passed over` : ""],
    ["10 s or more", `${long} of ${s.n}`, between(s.ten_second_interval)],
    ["mean hold", secs(s.mean_hold_s), s.best_hold_s === null ? "" : `best ${secs(s.best_hold_s)}`],
    [
      "falls",
      s.falls_over + s.falls_under ? `${s.falls_over} over, ${s.falls_under} under` : "none yet",
      s.fall_p === null ? "" : `p ${s.fall_p.toFixed(2)}`,
    ],
  ];
  return (
    <table className="w-full">
      <tbody>
        {rows.map(([name, figure, beside]) => (
          <tr key={name} className="border-b border-rule last:border-0">
            <th scope="row" className="py-2 text-left text-[1.0625rem] font-normal">
              {name}
            </th>
            <td className="py-2 text-right text-[1.0625rem] font-bold">{figure}</td>
            <td className="py-2 pl-3 text-right text-sm text-soft">{beside}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
