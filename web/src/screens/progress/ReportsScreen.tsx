import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { v7 as uuidv7 } from "uuid";
import { ask, client } from "../../api/client";
import { useTrainees } from "../../api/hooks";
import { useReports } from "../../api/progress";
import { goesOn, useJob } from "../../live/useJob";
import { Button } from "../../parts/Button";
import { JobProgress } from "../../parts/JobProgress";
import { Message, Problem, Waiting } from "../../parts/Message";
import { MonthSteps } from "./MonthSteps";
import { monthName, thisMonth } from "./months";
import { ReportPaper } from "./ReportPaper";

const CHANGES = ["reports", "report"] as const;

/** A month's reports of the whole group in one go: written by the server, read through, printed a page each. */
export function ReportsScreen() {
  const [search, setSearch] = useSearchParams();
  const month = search.get("month") ?? thisMonth();
  const page = useReports(month);
  const trainees = useTrainees();
  const [begun, setBegun] = useState<string | null>(null);
  const [error, setError] = useState<unknown>();
  const found = page.data?.under_way;
  const { job, stop } = useJob(begun ?? (goesOn(found) ? (found?.id ?? null) : null), CHANGES);
  if (page.isPending || trainees.isPending) return <Waiting />;
  if (!page.data || !trainees.data) return <Problem error={page.error ?? trainees.error} />;
  const { reports } = page.data;
  const everybody = trainees.data;
  const go = (next: string) => {
    setBegun(null);
    setSearch({ month: next }, { replace: true });
  };
  const write = async () => {
    const body = { id: uuidv7(), month, trainees: everybody.map((t) => t.id) };
    try {
      setBegun((await ask(client.POST("/api/reports/jobs", { body }))).id);
      setError(undefined);
    } catch (failure) {
      setError(failure);
    }
  };
  return (
    <>
      <div className="mb-6 print:hidden">
        <p className="flex flex-wrap gap-x-4 text-sm text-soft">
          <Link to="/group" className="underline">
            The group
          </Link>
          <MonthSteps month={month} onGo={go} />
        </p>
        <h1 className="text-[2.125rem] leading-tight">Reports of {monthName(month)}</h1>
        <p className="mb-3 max-w-2xl text-soft">
          {reports.length} of {page.data.trainees} are written. What you have put into your own words stays.
        </p>
        <div className="flex flex-wrap gap-3">
          <Button
            least="coach"
            kind={reports.length ? "plain" : "act"}
            live
            disabled={!everybody.length || goesOn(job)}
            onClick={() => void write()}
          >
            {reports.length ? "Write them again" : `Write all ${everybody.length}`}
          </Button>
          {reports.length > 0 && (
            <Button kind="act" live onClick={() => window.print()}>
              Print, or save as PDF
            </Button>
          )}
        </div>
        {error !== undefined && <Problem error={error} />}
        <JobProgress job={job} doing="Writing" done="written" onStop={stop} />
        {reports.length === 0 && !job && <Message>No report of this month is written yet.</Message>}
      </div>
      {reports.map((report, n) => (
        <ReportPaper key={report.name} report={report} last={n === reports.length - 1} />
      ))}
    </>
  );
}
