import type { TodayTrainee, TrainingGroup } from "../../api/client";
import { fits } from "../../parts/names";
import { eveningsInWords } from "../groups/evenings";

/** Up to so many a list needs no narrowing. */
export const FEW = 12;

/** How Today is narrowed and sorted; kept in the address, so that a page comes back as it was. */
export interface View {
  group: string;
  sort: "first" | "name";
  typed: string;
}

export const viewOf = (search: URLSearchParams): View => ({
  group: search.get("group") ?? "",
  sort: search.get("sort") === "name" ? "name" : "first",
  typed: search.get("name") ?? "",
});

const asSearch = (view: View) => ({
  ...(view.group ? { group: view.group } : {}),
  ...(view.sort === "name" ? { sort: "name" } : {}),
  ...(view.typed ? { name: view.typed } : {}),
});

/** The rows of a view: of its group, with its letters, in its order. Those that press come first as the server has them. */
export function shownRows(rows: TodayTrainee[], view: View, groups: readonly TrainingGroup[]) {
  const members = groups.find((g) => g.id === view.group)?.members;
  const found = rows.filter((row) => (!members || members.includes(row.id)) && fits(row.name, view.typed));
  return view.sort === "name" ? [...found].sort((a, b) => a.name.localeCompare(b.name)) : found;
}

interface Props {
  view: View;
  groups: readonly TrainingGroup[];
  onView: (search: Record<string, string>) => void;
}

/** Narrow Today by letters and by group, and sort it. */
export function Narrow({ view, groups, onView }: Props) {
  const change = (part: Partial<View>) => onView(asSearch({ ...view, ...part }));
  return (
    <div className="mb-3 flex flex-wrap gap-3 max-sm:grid max-sm:grid-cols-2">
      <input
        aria-label="Only names with these letters"
        placeholder="Name"
        className="field w-44 max-sm:w-full"
        value={view.typed}
        onChange={(event) => change({ typed: event.target.value })}
      />
      {groups.length > 0 && (
        <select
          aria-label="Group"
          className="field w-auto max-w-full max-sm:order-last max-sm:col-span-2 max-sm:w-full"
          value={view.group}
          onChange={(event) => change({ group: event.target.value })}
        >
          <option value="">every group</option>
          {groups.map((group) => (
            <option key={group.id} value={group.id}>
              {group.name}, {eveningsInWords(group.evenings)}
            </option>
          ))}
        </select>
      )}
      <select
        aria-label="Order"
        className="field w-auto"
        value={view.sort}
        onChange={(event) => change({ sort: event.target.value as View["sort"] })}
      >
        <option value="first">most pressing first</option>
        <option value="name">by name</option>
      </select>
    </div>
  );
}
