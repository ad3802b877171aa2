/** A goal being broken down: it stays in this browser until it is kept as a line. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { v7 as uuidv7 } from "uuid";
import {
  ask,
  type BayLook,
  type BayRung,
  type Breakdown,
  client,
  type SyllabusPage,
  type Wanted,
} from "../../api/client";

/** The bay as the coach has it so far. */
export interface BayDraft {
  breakdown: Breakdown;
  rungs: BayRung[];
  /** The sides left out. */
  dropped: string[];
}

const KEY = "perch.breakdown";
const A_MOMENT_MS = 350;

function readBay(): BayDraft | null {
  return JSON.parse(localStorage.getItem(KEY) ?? "null") as BayDraft | null;
}

/** What a proposal is known by when the skill is said again: what was taken off, and where that leaves it. */
const keyOf = (rung: BayRung) => rung.drill ?? `${rung.way} ${JSON.stringify(rung.at)}`;

/** New proposals with what the coach had changed of the old ones, and the coach's own rungs below the goal. */
export function withEdits(proposed: BayRung[], draft: BayDraft): BayRung[] {
  const before = new Map(draft.breakdown.rungs.map((r) => [keyOf(r), r]));
  const edited = new Map(draft.rungs.map((r) => [keyOf(r), r]));
  const own = draft.rungs.filter((r) => r.way === "own");
  const [goal, ...rest] = proposed.map((rung) => {
    const was = before.get(keyOf(rung));
    const is = edited.get(keyOf(rung));
    // the goal is what was just said
    if (!was || !is || rung.way === "goal") return rung;
    return {
      ...rung,
      ...(is.title !== was.title && { title: is.title }),
      ...(is.kept !== was.kept && { kept: is.kept }),
      ...(is.gate.value !== was.gate.value && { gate: is.gate }),
    };
  });
  return goal ? [goal, ...inOrder([...own, ...rest], draft.rungs)] : own;
}

/** Rungs as the coach had them in order; what is new stands behind what it was proposed behind. */
function inOrder(proposed: BayRung[], before: BayRung[]): BayRung[] {
  const named = (r: BayRung) => (r.way === "own" && !r.drill ? r.title : keyOf(r));
  const place = new Map(before.map((r, n) => [named(r), n]));
  const at = (r: BayRung) => place.get(named(r)) ?? -1;
  const found = proposed.filter((r) => at(r) >= 0).sort((a, b) => at(a) - at(b));
  proposed.forEach((rung, n) => {
    if (at(rung) >= 0) return;
    const behind = proposed[n - 1];
    found.splice(behind ? found.indexOf(behind) + 1 : 0, 0, rung);
  });
  return found;
}

/** The bay in hand, and what can be done with it. */
export function useBay(page: SyllabusPage) {
  const queries = useQueryClient();
  const [draft, setDraft] = useState(readBay);
  const [error, setError] = useState<unknown>();
  const [id, renewId] = useState(() => uuidv7());
  const put = (next: BayDraft | null) => {
    if (next) localStorage.setItem(KEY, JSON.stringify(next));
    else localStorage.removeItem(KEY);
    setDraft(next);
    setError(undefined);
  };
  const propose = async (title: string, said?: Partial<Pick<Wanted, "form" | "at" | "gate" | "pillar">>) => {
    try {
      const breakdown = await ask(
        client.POST("/api/syllabus/breakdown", { body: { title, ...said } as never }),
      );
      // another form is another skill; anything else keeps what the coach has done so far
      const same = draft && draft.breakdown.wanted.form === breakdown.wanted.form;
      const rungs = same ? withEdits(breakdown.rungs, draft) : breakdown.rungs;
      put({ breakdown, rungs, dropped: same ? draft.dropped : [] });
    } catch (failure) {
      setError(failure);
    }
  };
  const change = (rungs: BayRung[]) => draft && put({ ...draft, rungs });
  const drop = (side: string, out: boolean) =>
    draft &&
    put({ ...draft, dropped: out ? [...draft.dropped, side] : draft.dropped.filter((s) => s !== side) });
  const keep = async (look: BayLook) => {
    if (!draft) return false;
    const note = `A goal of our own: ${draft.breakdown.wanted.title}`;
    try {
      await ask(
        client.POST("/api/syllabus/versions", {
          body: { id, base: page.version, edits: [look.edit] as never, note },
        }),
      );
      put(null);
      renewId(uuidv7());
      await queries.invalidateQueries();
      return true;
    } catch (failure) {
      setError(failure);
      await queries.invalidateQueries();
      return false;
    }
  };
  return { draft, propose, change, drop, keep, clear: () => put(null), error };
}

/** What the bay would make, a moment after the last change: checks and big steps at once, then who stands where. */
export function useLook(draft: BayDraft | null) {
  const [settled, settle] = useState(draft);
  useEffect(() => {
    const timer = setTimeout(() => settle(draft), A_MOMENT_MS);
    return () => clearTimeout(timer);
  }, [draft]);
  const looked = (who: boolean) => ({
    queryKey: ["breakdown", who, settled],
    enabled: settled !== null,
    queryFn: ({ signal }: { signal: AbortSignal }) =>
      ask(
        client.POST("/api/syllabus/breakdown/look", {
          params: { query: { who } },
          body: {
            wanted: settled?.rungs[0]
              ? { ...settled.breakdown.wanted, title: settled.rungs[0].title, gate: settled.rungs[0].gate }
              : settled?.breakdown.wanted,
            rungs: settled?.rungs,
            dropped: settled?.dropped,
          } as never,
          signal,
        }),
      ),
  });
  const look = useQuery({ ...looked(false), placeholderData: (before: BayLook | undefined) => before });
  const who = useQuery({ ...looked(true), placeholderData: (before: BayLook | undefined) => before });
  const fresh = look.data !== undefined && !look.isPlaceholderData && !look.isFetching && settled === draft;
  return { look: look.data, standing: who.data?.standing, fresh, failure: look.error ?? who.error };
}
