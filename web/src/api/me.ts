/** Who is signed in, in which hall and as what. */
import { useQuery } from "@tanstack/react-query";
import { keepAnswer, keepFor, shownAsOf } from "../live/atHand";
import { dayIn } from "../parts/words";
import { ask, client, inHall, OTHER_HALL, type Role, setHall } from "./client";
import { queryClient } from "./hooks";

/** The coach who is signed in, with their settings. */
export const useMe = () => useQuery({ queryKey: ["me"], queryFn: askMe, staleTime: 60_000 });

/** Who is signed in; the hall they are in is this page's from its first answer on. */
async function askMe() {
  const me = await ask(client.GET("/api/me"));
  if (me.hall && !shownAsOf()) {
    keepFor(me.id, me.hall.id);
    keepAnswer("/api/me", me);
  }
  if (!inHall() && me.hall) setHall(me.hall.id);
  return me;
}

client.use({
  onResponse({ response }) {
    // another tab went to another hall: whoever is signed in is asked for anew, and the page goes along
    if (response.status === OTHER_HALL) void queryClient.invalidateQueries({ queryKey: ["me"] });
  },
});

/** The day it is in the hall, as "2026-05-31": asked with it, an answer kept for that day is found where no server answers. */
export const useHallDay = () => dayIn(useMe().data?.hall?.time_zone ?? "UTC");

const RANK: Record<Role, number> = { assistant: 0, coach: 1, owner: 2 };
/** Whether whoever is signed in may do what is for this role and those above it; the server asks the same. */
export function useMay(least: Role) {
  const role = useMe().data?.role;
  return role != null && RANK[role] >= RANK[least];
}
