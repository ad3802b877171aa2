/** The queries of the hall: its people, groups, history and first evening. */
import { useQuery } from "@tanstack/react-query";
import { ask, client } from "./client";

/** The hall with its people. */
export const useHall = () => useQuery({ queryKey: ["hall"], queryFn: () => ask(client.GET("/api/hall")) });

/** Groups with their evenings. */
export const useGroups = () =>
  useQuery({ queryKey: ["groups"], queryFn: () => ask(client.GET("/api/groups")) });

/** What an empty hall does first, and next. */
export const useFirstEvening = (wanted: boolean) =>
  useQuery({
    queryKey: ["hall", "first-evening"],
    enabled: wanted,
    // a step is done on another page, and whoever comes back from it sees that
    refetchOnMount: "always",
    queryFn: () => ask(client.GET("/api/hall/first-evening")),
  });

/** What was done in the hall in the week up to a day. */
export const useHallHistory = (last: string | null, by: string | null) =>
  useQuery({
    queryKey: ["hall", "history", last, by],
    queryFn: () =>
      ask(
        client.GET("/api/hall/history", {
          params: { query: { ...(last ? { last } : {}), ...(by ? { by } : {}) } },
        }),
      ),
    placeholderData: (before) => before,
  });
