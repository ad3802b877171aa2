import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { ask, client, type JobPage } from "../api/client";

const LOOK_AGAIN_MS = 500;

/** Whether work of the server is still to be done. */
export const goesOn = (job: JobPage | null | undefined) =>
  job?.state === "waiting" || job?.state === "running";

/** How far work of the server has come, looked at again until it ends; then what it changed is asked for anew. */
export function useJob(id: string | null, changes: readonly string[]) {
  const queries = useQueryClient();
  const job = useQuery({
    queryKey: ["job", id],
    enabled: id !== null,
    queryFn: () => ask(client.GET("/api/jobs/{id}", { params: { path: { id: id ?? "" } } })),
    refetchInterval: (query) => (goesOn(query.state.data) || !query.state.data ? LOOK_AGAIN_MS : false),
  }).data;
  const wentOn = useRef(false);
  const going = goesOn(job);
  useEffect(() => {
    if (wentOn.current && !going) {
      for (const key of changes) void queries.invalidateQueries({ queryKey: [key] });
    }
    wentOn.current = going;
  }, [going, changes, queries]);
  return {
    job: job ?? null,
    stop: () => {
      if (id) void ask(client.POST("/api/jobs/{id}/stop", { params: { path: { id } } }));
    },
  };
}
