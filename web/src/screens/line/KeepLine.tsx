import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type LinePage, type PictureOfDrill } from "../../api/client";
import { Button } from "../../parts/Button";
import { Problem } from "../../parts/Message";

interface KeepProps {
  page: LinePage;
  picture: PictureOfDrill;
  day: string;
  refused: boolean;
  onBeside: () => void;
}

/** The joints are kept, no picture; once kept they are not kept again until they change. */
export function KeepLine({ page, picture, day, refused, onBeside }: KeepProps) {
  const queries = useQueryClient();
  const [kept, setKept] = useState("");
  const [note, setNote] = useState("");
  const [taken, setTaken] = useState(day);
  const [run, setRun] = useState("");
  const [problem, setProblem] = useState<unknown>();
  const now = JSON.stringify(picture);
  // the same line sent again, after a second tap or a lost answer, is the same line
  const sent = useRef({ what: "", id: "", at: "" });
  const keep = async () => {
    setProblem(undefined);
    const what = JSON.stringify([picture, note, taken, run]);
    if (sent.current.what !== what) sent.current = { what, id: uuidv7(), at: new Date().toISOString() };
    const { id, at } = sent.current;
    try {
      await ask(
        client.POST("/api/trainees/{id}/lines", {
          params: { path: { id: page.trainee.id } },
          body: {
            ...picture,
            id,
            at,
            day: taken || page.on,
            note,
            run: run || null,
          },
        }),
      );
      setKept(now);
      await queries.invalidateQueries({ queryKey: ["line", page.trainee.id], exact: true });
    } catch (error) {
      setProblem(error);
    }
  };
  return (
    <div className="mt-4 border-t border-rule pt-3">
      {problem !== undefined && <Problem error={problem} />}
      <div className="flex flex-wrap items-end gap-3">
        <label>
          <span className="block text-sm text-soft">Taken on</span>
          <input
            type="date"
            className="field"
            value={taken}
            max={page.on}
            onChange={(event) => setTaken(event.target.value)}
          />
        </label>
        {page.runs.length > 0 && (
          <label>
            <span className="block text-sm text-soft">From the test</span>
            <select className="field max-w-56" value={run} onChange={(event) => setRun(event.target.value)}>
              <option value="">no test</option>
              {page.runs.map((r) => (
                <option key={r.run} value={r.run}>
                  {r.words}
                </option>
              ))}
            </select>
          </label>
        )}
        <label className="min-w-40 flex-1">
          <span className="block text-sm text-soft">Note</span>
          <input
            className="field w-full"
            maxLength={500}
            value={note}
            onChange={(e) => setNote(e.target.value)}
          />
        </label>
      </div>
      <div className="mt-3 flex flex-wrap gap-3">
        <Button kind="act" disabled={refused || kept === now} onClick={() => void keep()}>
          {kept === now ? "Kept" : "Keep this line"}
        </Button>
        <Button onClick={onBeside}>Hold another against it</Button>
      </div>
    </div>
  );
}
