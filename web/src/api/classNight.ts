import { useQuery } from "@tanstack/react-query";
import { ask, client } from "./client";

/** Work that lays an evening out is looked at again so often, ms. */
const LOOK_AGAIN_MS = 500;

/** The rooms for class nights, and the kinds of station there can be. */
export const useRooms = () => useQuery({ queryKey: ["rooms"], queryFn: () => ask(client.GET("/api/rooms")) });

/** Every class night, the newest day first. */
export const useClasses = () =>
  useQuery({ queryKey: ["classes"], queryFn: () => ask(client.GET("/api/classes")) });

/** One class night as it stands; looked at again while it is being laid out. */
export const useClassPage = (id: string) =>
  useQuery({
    queryKey: ["class", id],
    enabled: id !== "",
    queryFn: () => ask(client.GET("/api/classes/{id}", { params: { path: { id } } })),
    staleTime: 0,
    refetchInterval: (query) => {
      const state = query.state.data?.job?.state;
      return state === "waiting" || state === "running" ? LOOK_AGAIN_MS : false;
    },
  });

/** What a class night came to. */
export const useClassAfter = (id: string, over: boolean) =>
  useQuery({
    queryKey: ["class", id, "after"],
    enabled: over,
    queryFn: () => ask(client.GET("/api/classes/{id}/after", { params: { path: { id } } })),
  });
