import type { MonthReport } from "../../api/client";
import { Heads } from "../../parts/Heads";
import { dayMonth } from "../../parts/words";

/** A report as it is printed: a page, plain words, a few figures. */
export function ReportPaper({ report, last = true }: { report: MonthReport; last?: boolean }) {
  return (
    <article
      aria-label={report.heading}
      className={`mb-12 max-w-[46rem] print:mb-0 print:max-w-none ${last ? "" : "print:break-after-page"}`}
    >
      <header className="mb-3 border-b-4 border-wood pb-1">
        <h1 className="text-[1.75rem] leading-tight">{report.heading}</h1>
        <p className="text-sm text-soft">As of {dayMonth(report.on)}.</p>
      </header>
      {report.sections.map((s) => (
        <div key={s.section} className="mb-3 break-inside-avoid">
          <h2 className="text-lg font-bold">{s.title}</h2>
          <p className="whitespace-pre-line">{s.words}</p>
        </div>
      ))}
      {report.figures.length > 0 && (
        <table className="mb-3 w-full break-inside-avoid text-left tabular-nums">
          <Heads
            words={["Measured this month", "Best before", "Best this month", "Gate"]}
            className="text-sm"
          />
          <tbody>
            {report.figures.map((f) => (
              <tr key={f.title} className="border-t border-rule">
                <th scope="row" className="py-0.5 pr-3 font-normal">
                  {f.title}
                </th>
                <td className="pr-3">{f.before || "–"}</td>
                <td className="pr-3 font-bold">{f.now}</td>
                <td>{f.gate}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <p className="text-xs">{report.caution}</p>
    </article>
  );
}
