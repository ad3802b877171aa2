/** Edits on the syllabus that are not kept yet: they stay in this browser until they are. */
import type { Drill, Edit, Line, SyllabusPage } from "../../api/client";

/** Edits that are not kept yet, in this browser. */
export interface Draft {
  /** The version the edits were made on; null for ours. */
  base: string | null;
  edits: Edit[];
}

const KEY = "perch.syllabus.draft";

/** The edits begun on this syllabus, or none. */
export function readDraft(page: SyllabusPage): Draft {
  const kept = JSON.parse(localStorage.getItem(KEY) ?? "null") as Draft | null;
  return kept ?? { base: page.version, edits: [] };
}

/** Keep or drop the edits begun. */
export function writeDraft(draft: Draft | null) {
  if (draft?.edits.length) localStorage.setItem(KEY, JSON.stringify(draft));
  else localStorage.removeItem(KEY);
}

/** Add an edit; two changes of one drill become one. */
export function withEdit(edits: Edit[], edit: Edit): Edit[] {
  const last = edits.at(-1);
  const plain = (e: Edit) =>
    !e.insert && !e.place && e.retired === undefined && !e.goal && !e.own_test && e.aside === undefined;
  const mergeable = last && last.drill === edit.drill && plain(last) && plain(edit);
  if (!mergeable) return [...edits, edit];
  const change =
    last.change || edit.change ? { ...last.change, ...edit.change, drill: edit.drill } : undefined;
  return [...edits.slice(0, -1), { ...last, ...edit, ...(change && { change }) }];
}

/** All drills of lines, from the lowest rung. */
export const drillsOf = (lines: Line[]): Drill[] => lines.flatMap((line) => line.rungs.flat());

/** A name for a new drill: what may stand in a file. */
export const slug = (title: string) =>
  title
    .toLowerCase()
    .normalize("NFKD")
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-+|-+$/g, "")
    .slice(0, 60);

/** A name like this one that is not taken yet. */
export function freeName(plain: string, taken: readonly string[]): string {
  let name = plain;
  for (let n = 2; taken.includes(name); n++) name = `${plain}-${n}`;
  return name;
}

/** An edit in words. */
export const editWords = (edit: Edit, titles: Map<string, string>) => {
  if (edit.goal) return `${edit.goal.title}: the goal`;
  if (edit.own_test) return `${edit.own_test.title}: a test of your own`;
  if (edit.aside !== undefined)
    return `${titles.get(edit.test ?? "") ?? edit.test}: ${edit.aside ? "set aside" : "used again"}`;
  const title = edit.insert?.title ?? titles.get(edit.drill) ?? edit.drill;
  if (edit.insert) return `${title}: a new rung`;
  if (edit.retired === true) return `${title}: retired`;
  if (edit.retired === false) return `${title}: brought back`;
  const parts = [
    edit.change?.gate && "gate",
    edit.change?.doses && "dose",
    edit.change?.cues && "cues",
    edit.title && "title",
    edit.about && "description",
  ].filter(Boolean);
  return `${title}: ${parts.join(", ") || "changed"}`;
};
