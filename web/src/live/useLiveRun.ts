import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useSyncExternalStore } from "react";
import { ask, client } from "../api/client";
import { onDelivered, outboxVersion, subscribe, waitingLetters } from "./outbox";
import { applyLetter, confirm, confirmedRun, forgetRun, merge, presentRun } from "./run";

/** Count changes of the outbox, so that a component reads it anew. */
export const useOutboxVersion = () => useSyncExternalStore(subscribe, outboxVersion);

/** Ask, and ask again while something was delivered meanwhile: an answer that was asked for before may not know of it yet. */
export async function settled<T>(deliveries: { current: number }, asked: () => Promise<T>): Promise<T> {
  for (;;) {
    const before = deliveries.current;
    const answer = await asked();
    if (deliveries.current === before) return answer;
  }
}

/** Follow one run: the server's word where it answers, this browser's memory where it does not, and what still waits on top. */
export function useLiveRun(id: string) {
  const queries = useQueryClient();
  const version = useOutboxVersion();
  const deliveries = useRef(0);
  const waiting = waitingLetters().filter((letter) => letter.run === id);
  const startWaits = waiting.some((letter) => letter.path.endsWith("/runs"));
  const query = useQuery({
    queryKey: ["run", id],
    queryFn: async () => {
      const judged = await settled(deliveries, () =>
        ask(client.GET("/api/runs/{run}", { params: { path: { run: id } } })),
      );
      if (judged.scored.run.ended_as) forgetRun(id);
      else confirm(merge(confirmedRun(id), judged));
      return judged;
    },
    enabled: !startWaits && id !== "",
    staleTime: 0,
  });
  useEffect(
    () =>
      onDelivered((letter) => {
        if (letter.run !== id) return;
        deliveries.current += 1;
        const known = applyLetter(confirmedRun(id), letter);
        if (known) confirm(known);
        void queries.invalidateQueries({ queryKey: ["run", id] });
        for (const key of ["trainee", "today", "bench", "tests", "drill", "test-day", "compare"])
          void queries.invalidateQueries({ queryKey: [key] });
      }),
    [id, queries],
  );
  const judged = query.data;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the outbox changes behind its version
  const run = useMemo(() => {
    const known = confirmedRun(id);
    return presentRun(id, judged ? merge(known, judged) : known);
  }, [id, judged, version]);
  return { run, judged, error: query.error, waiting: waiting.length };
}
