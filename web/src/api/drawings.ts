/** Drills drawn, by trainee or by a secret address. */
import { useQuery } from "@tanstack/react-query";
import { ask, client } from "./client";

/** The server draws as many drills at once; nobody's session has more. */
const MOST_DRAWN = 60;

/** Drills drawn in a trainee's own lengths; a drawing does not change while somebody looks at it. */
export const useDrawings = (id: string, drills: readonly string[], faults = false) =>
  useQuery({
    queryKey: ["drawings", id, faults, ...drills],
    enabled: drills.length > 0,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () =>
      ask(
        client.GET("/api/trainees/{id}/drawings", {
          params: { path: { id }, query: { drill: drills.slice(0, MOST_DRAWN), faults } },
        }),
      ),
  });

/** The same by a secret address. */
export const useSharedDrawings = (token: string, drills: readonly string[]) =>
  useQuery({
    queryKey: ["shared-drawings", token, ...drills],
    enabled: drills.length > 0,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () =>
      ask(
        client.GET("/api/shared/{token}/drawings", {
          params: { path: { token }, query: { drill: drills.slice(0, MOST_DRAWN) } },
        }),
      ),
  });
