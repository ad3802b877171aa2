/** Planning for many, one after the other, so that progress shows and it can be stopped. */
import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type PlanPage } from "../../api/client";
import type { WishSent } from "../../api/hooks";
import { wishOf } from "./edits";

/** How far planning everybody has come. */
export interface Progress {
  done: number;
  of: number;
  /** What could not be planned, in words. */
  wrong: string[];
  running: boolean;
}

/** Plan the same days at the same places, with each one's own drills and doses. */
const sameDays = (page: PlanPage, model: WishSent | null): WishSent =>
  model ? { ...model, pins: [], drops: [], against: null } : wishOf(page);

/** Plan everybody's week one after the other, with a way to stop. */
export function usePlanMany() {
  const queries = useQueryClient();
  const [progress, setProgress] = useState<Progress | null>(null);
  const stopped = useRef(false);
  const run = async (who: { id: string; name: string }[], week: string | null, model: WishSent | null) => {
    stopped.current = false;
    const wrong: string[] = [];
    for (const [n, { id, name }] of who.entries()) {
      setProgress({ done: n, of: who.length, wrong: [...wrong], running: true });
      if (stopped.current) break;
      try {
        const query = week === null ? {} : { week };
        const page = await ask(client.GET("/api/trainees/{id}/plan", { params: { path: { id }, query } }));
        const body = {
          ...sameDays(page, model),
          week: page.week,
          id: uuidv7(),
          at: new Date().toISOString(),
          note: "",
          fingerprint: "",
        };
        await ask(client.POST("/api/trainees/{id}/plans", { params: { path: { id } }, body }));
      } catch (error) {
        wrong.push(`${name}: ${error instanceof Error ? error.message : "could not be planned"}`);
      }
      setProgress({ done: n + 1, of: who.length, wrong: [...wrong], running: true });
    }
    setProgress((last) => last && { ...last, running: false });
    for (const key of ["plan", "plan-week", "floor"]) void queries.invalidateQueries({ queryKey: [key] });
  };
  return {
    progress,
    run,
    stop: () => {
      stopped.current = true;
    },
  };
}
