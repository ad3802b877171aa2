import type { PlanPage } from "../../api/client";
import { Button } from "../../parts/Button";
import type { Edit } from "./edits";

interface KeepBarProps {
  page: PlanPage;
  edits: Edit[];
  toKeep: boolean;
  onKeep: () => void;
  onUndo: () => void;
  onVersion: (version: string | null) => void;
}

/** Keeping the week, taking an edit back, its versions, and the kept one as files. */
export function KeepBar({ page, edits, toKeep, onKeep, onUndo, onVersion }: KeepBarProps) {
  return (
    <div className="mt-2 flex flex-wrap items-center gap-3">
      {toKeep && (
        <Button least="coach" kind="act" live onClick={onKeep}>
          Keep this week
        </Button>
      )}
      {edits.length > 0 && <Button onClick={onUndo}>Take the last edit back</Button>}
      {page.versions.length > 1 && (
        <label className="text-sm text-soft">
          Versions{" "}
          <select
            className="field w-auto"
            value={page.kept ?? ""}
            onChange={(event) =>
              onVersion(event.target.value === page.versions[0]?.id ? null : event.target.value)
            }
          >
            {page.kept === null && <option value="">not kept yet</option>}
            {page.versions.map((v, n) => (
              <option key={v.id} value={v.id}>
                {n === 0 ? "newest, " : ""}
                {new Date(v.at).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" })}
              </option>
            ))}
          </select>
        </label>
      )}
      {page.kept && (
        <span className="flex gap-3 text-sm">
          <a className="underline" href={`/api/plans/${page.kept}/plan.csv`}>
            CSV
          </a>
          <a className="underline" href={`/api/plans/${page.kept}/plan.json`}>
            JSON
          </a>
          <a className="underline" href={`/api/plans/${page.kept}/plan.ics`}>
            Calendar file
          </a>
        </span>
      )}
    </div>
  );
}
