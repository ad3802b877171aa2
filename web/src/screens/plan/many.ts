/** Planning for many is work of the server: it goes on when this page is closed, and is found again here. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type JobPage } from "../../api/client";
import type { WishSent } from "../../api/hooks";
import { goesOn, useJob } from "../../live/useJob";

const CHANGES = ["plan", "plan-week", "floor"] as const;

interface Many {
  job: JobPage | null;
  error: unknown;
  /** Plan a week for these trainees, on the days of a model or as each one's week usually is. */
  run: (who: { id: string }[], week: string, model: WishSent | null) => Promise<void>;
  stop: () => void;
}

/** Plan everybody's week, see how far it has come, stop it. `found`: also what another page began. */
export function usePlanMany(found: boolean): Many {
  const [begun, setBegun] = useState<string | null>(null);
  const [error, setError] = useState<unknown>();
  const newest = useQuery({
    queryKey: ["job", "plan-weeks"],
    enabled: found,
    queryFn: () => ask(client.GET("/api/plan-week/jobs")),
  }).data;
  // what has ended before this page was opened is no news
  const { job, stop } = useJob(begun ?? (goesOn(newest) ? (newest?.id ?? null) : null), CHANGES);
  const run = async (who: { id: string }[], week: string, model: WishSent | null) => {
    const body = {
      id: uuidv7(),
      week,
      trainees: who.map((t) => t.id),
      model: model && { ...model, pins: [], drops: [], against: null },
    };
    try {
      setBegun((await ask(client.POST("/api/plan-week/jobs", { body }))).id);
      setError(undefined);
    } catch (failure) {
      setError(failure);
    }
  };
  return { job, error, run, stop };
}
