import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { ask, client, type LinePage, type LineShown } from "../../api/client";
import type { View } from "../../line/points";
import { Problem } from "../../parts/Message";
import { dayMonth } from "../../parts/words";
import type { Beside } from "./OneOverTheOther";
import { OutlineOf } from "./OutlineOf";

interface Props {
  page: LinePage;
  lines: LineShown[];
  view: View;
  judged: boolean;
  onOther: () => void;
  onBeside: (beside: Beside) => void;
}

/** What is kept of this drill, the other view where it is missing, and then against now. */
export function KeptLines({ page, lines, view, judged, onOther, onBeside }: Props) {
  const queries = useQueryClient();
  const [problem, setProblem] = useState<unknown>();
  const other: View = view === "side" ? "front" : "side";
  const missing = (judged || lines.length > 0) && !lines.some((line) => line.view === other);
  const strike = async (line: string) => {
    setProblem(undefined);
    try {
      await ask(client.POST("/api/lines/{line}/strike", { params: { path: { line } } }));
      await queries.invalidateQueries({ queryKey: ["line", page.trainee.id], exact: true });
    } catch (error) {
      setProblem(error);
    }
  };
  return (
    <section aria-label="Kept lines">
      {problem !== undefined && <Problem error={problem} />}
      {missing && (
        <>
          <h2 className="text-xl">The {other} is missing</h2>
          <button
            type="button"
            onClick={onOther}
            className="mb-5 mt-1 block w-full border-2 border-dashed border-darkwood px-4 py-6 text-center text-[0.9375rem] text-soft hover:bg-tint"
          >
            {other === "front"
              ? "A line can look right from the side and be wide from the front."
              : "Whether it is straight only the side shows."}
            <span className="mt-2 block font-bold text-ink underline">Add a picture</span>
          </button>
        </>
      )}
      {lines.length > 0 && <h2 className="text-xl">Kept lines</h2>}
      <ul>
        {lines.map((line) => (
          <li key={line.id} className="grid grid-cols-[auto_1fr] gap-x-3 border-b border-rule py-2">
            <OutlineOf
              height={84}
              label={`Outline of ${dayMonth(line.day)}, from the ${line.view}`}
              outlines={[{ outline: line.outline, colour: "var(--ink)" }]}
            />
            <div className="text-[0.9375rem]">
              <p className="text-soft">
                {dayMonth(line.day)}, {line.view}
              </p>
              <p className="font-bold leading-tight">{line.said.heading}</p>
              {line.run && (
                <p>
                  <Link to={`/trainees/${page.trainee.id}/bench/${line.run}`} className="underline">
                    {page.runs.find((r) => r.run === line.run)?.words ?? "The test that it backs"}
                  </Link>
                </p>
              )}
              {line.note && <p className="text-soft">{line.note}</p>}
              <p className="flex flex-wrap gap-x-3">
                {(judged || lines.length > 1) && (
                  <button
                    type="button"
                    className="min-h-6 underline"
                    onClick={() =>
                      onBeside({ outline: line.outline, words: `the line of ${dayMonth(line.day)}` })
                    }
                  >
                    Lay it over
                  </button>
                )}
                <button
                  type="button"
                  className="min-h-6 text-soft underline"
                  aria-label={`Strike out the line of ${dayMonth(line.day)}`}
                  onClick={() => void strike(line.id)}
                >
                  Strike out
                </button>
              </p>
            </div>
          </li>
        ))}
      </ul>
      {page.lines.length > 0 && (
        <p className="mt-2 flex flex-wrap gap-x-3 text-sm">
          <a className="underline" href={`/api/trainees/${page.trainee.id}/lines.json`} download>
            All as COCO key points
          </a>
          <a className="underline" href={`/api/trainees/${page.trainee.id}/lines.csv`} download>
            As CSV
          </a>
        </p>
      )}
    </section>
  );
}
