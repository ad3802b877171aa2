import type { JudgedRun, Verdict } from "../../api/client";
import { day } from "../../parts/words";

interface Props {
  judged: JudgedRun | undefined;
  kept: number;
  waiting: number;
  /** The way of measuring that goes on now: only the same way compares. */
  mode: string;
}

/** The running figures, as the core counts them from what the server has. */
export function SoFar({ judged, kept, waiting, mode }: Props) {
  const v = judged?.scored.verdict;
  const behind = v ? kept !== v.n : kept > 0;
  const before = judged?.earlier.find((r) => r.verdict.n > 0 && r.verdict.mode === mode);
  return (
    <section aria-label="So far">
      <h2 className="font-sans text-sm font-normal text-soft">
        So far{behind && waiting ? `, up to try ${v?.n ?? 0}; ${waiting} on the way to the server` : ""}
      </h2>
      {v && v.n > 0 ? (
        <Figures v={v} />
      ) : (
        <p className="py-3 text-soft">The figures come with the first try.</p>
      )}
      {before && (
        <p className="mt-3 text-sm text-soft">
          Last time, {day(before.run.started_at)}: {before.verdict.summary}
        </p>
      )}
    </section>
  );
}

/** The figures of a run in rows. */
export function Figures({ v }: { v: Verdict }) {
  return (
    <table className="w-full">
      <tbody>
        {v.rows.map((row) => (
          <tr key={row.title} className="border-b border-rule last:border-0">
            <th scope="row" className="py-2 text-left text-[1.0625rem] font-normal">
              {row.title}
            </th>
            <td className="whitespace-nowrap py-2 pl-3 text-right text-[1.0625rem] font-bold">
              {row.figure}
            </td>
            <td className="py-2 pl-3 text-right text-sm text-soft">{row.beside}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
