import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type ReportPage } from "../../api/client";
import { useReport } from "../../api/progress";
import { Button, buttonLook } from "../../parts/Button";
import { Problem, Waiting } from "../../parts/Message";
import { moment } from "../../parts/words";
import { MonthSteps } from "./MonthSteps";
import { monthName, thisMonth } from "./months";
import { ReportPaper } from "./ReportPaper";

/** A month of one trainee on paper: written from the data, put into the coach's own words where they want, printed. */
export function ReportScreen() {
  const { id = "" } = useParams();
  const [search, setSearch] = useSearchParams();
  const month = search.get("month") ?? thisMonth();
  const page = useReport(id, month);
  const [changing, change] = useState(false);
  if (page.isPending) return <Waiting />;
  if (!page.data) return <Problem error={page.error} />;
  const go = (next: string) => {
    change(false);
    setSearch({ month: next }, { replace: true });
  };
  return (
    <>
      <div className="mb-6 print:hidden">
        <p className="flex flex-wrap gap-x-4 text-sm text-soft">
          <Link to={`/trainees/${id}/progress`} className="underline">
            Progress of {page.data.trainee.name}
          </Link>
          <MonthSteps month={month} onGo={go} />
        </p>
        <p className="my-2 max-w-2xl text-soft">
          {page.data.kept_at
            ? `In your words of ${moment(page.data.kept_at)}. The figures are those of that day.`
            : "Written from what was recorded, nothing added. Change the words before you print."}
        </p>
        {!changing && (
          <div className="flex flex-wrap gap-3">
            <Button kind="act" live onClick={() => window.print()}>
              Print, or save as PDF
            </Button>
            <Button least="coach" live onClick={() => change(true)}>
              Change the words
            </Button>
          </div>
        )}
      </div>
      {changing ? (
        <Words key={month} page={page.data} month={month} onDone={() => change(false)} />
      ) : (
        <ReportPaper report={page.data.report} />
      )}
      {!changing && (
        <Link to={`/reports?month=${month}`} className={`${buttonLook("quiet")} print:hidden`}>
          {monthName(month)} for everybody
        </Link>
      )}
    </>
  );
}

interface WordsProps {
  page: ReportPage;
  month: string;
  onDone: () => void;
}

/** The words of a report, section by section. What is emptied is left out. */
function Words({ page, month, onDone }: WordsProps) {
  const queries = useQueryClient();
  const { sections } = page.report;
  const [words, setWords] = useState<Record<string, string>>(
    Object.fromEntries(sections.map((s) => [s.section, s.words])),
  );
  const [error, setError] = useState<unknown>();
  // the same id when it is sent again
  const [sent] = useState(() => uuidv7());
  const { id } = page.trainee;
  const keep = async (changed: Record<string, string>) => {
    const body = { id: sent, at: new Date().toISOString(), month, base: page.base, words: changed };
    try {
      const next = await ask(client.POST("/api/trainees/{id}/reports", { params: { path: { id } }, body }));
      queries.setQueryData(["report", id, month], next);
      void queries.invalidateQueries({ queryKey: ["reports"] });
      onDone();
    } catch (failure) {
      setError(failure);
    }
  };
  return (
    <form
      className="max-w-[46rem]"
      onSubmit={(event) => {
        event.preventDefault();
        void keep(words);
      }}
    >
      <h1 className="mb-3 text-[1.75rem] leading-tight">{page.report.heading}</h1>
      {sections.map((s) => (
        <label key={s.section} className="mb-3 block">
          <span className="block font-bold">{s.title}</span>
          <textarea
            className="field w-full"
            rows={Math.max(2, Math.ceil((words[s.section]?.length ?? 0) / 80))}
            maxLength={2000}
            value={words[s.section] ?? ""}
            onChange={(event) => setWords({ ...words, [s.section]: event.target.value })}
          />
        </label>
      ))}
      {error !== undefined && <Problem error={error} />}
      <div className="flex flex-wrap gap-3">
        <Button type="submit" kind="act" live>
          Keep these words
        </Button>
        <Button live onClick={onDone}>
          Leave them
        </Button>
        {page.kept_at && (
          <Button kind="quiet" live onClick={() => void keep({})}>
            Write it again from the data
          </Button>
        )}
      </div>
    </form>
  );
}
