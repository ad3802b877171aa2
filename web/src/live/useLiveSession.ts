import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useRef } from "react";
import { ask, client } from "../api/client";
import { onDelivered, waitingLetters } from "./outbox";
import {
  applyToSession,
  confirmedSession,
  confirmSession,
  forgetSession,
  mergeSession,
  presentSession,
} from "./session";
import { settled, useOutboxVersion } from "./useLiveRun";

/** Follow one session: the server's word where it answers, this browser's memory where it does not, and what still waits on top. */
export function useLiveSession(id: string) {
  const queries = useQueryClient();
  const version = useOutboxVersion();
  const deliveries = useRef(0);
  const waiting = waitingLetters().filter((letter) => letter.run === id);
  const startWaits = waiting.some((letter) => letter.path.endsWith("/sessions"));
  const query = useQuery({
    queryKey: ["session", id],
    queryFn: async () => {
      const page = await settled(deliveries, () =>
        ask(client.GET("/api/sessions/{id}", { params: { path: { id } } })),
      );
      if (page.session.ended_as) forgetSession(id);
      else confirmSession(mergeSession(confirmedSession(id), page));
      return page;
    },
    enabled: !startWaits && id !== "",
    staleTime: 0,
  });
  useEffect(
    () =>
      onDelivered((letter) => {
        if (letter.run !== id) return;
        deliveries.current += 1;
        const known = applyToSession(confirmedSession(id), letter);
        if (known) confirmSession(known);
        // in the middle of a session this browser knows it all: the server is asked when it ends
        if (letter.path.endsWith("/end"))
          for (const key of ["session", "plan", "floor", "trainee", "today", "drill", "levers"])
            void queries.invalidateQueries({ queryKey: [key] });
      }),
    [id, queries],
  );
  const page = query.data;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the outbox changes behind its version
  const session = useMemo(() => {
    const known = confirmedSession(id);
    return presentSession(id, page ? mergeSession(known, page) : known);
  }, [id, page, version]);
  return { session, page, error: query.error, waiting: waiting.length };
}
