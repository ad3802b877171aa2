/** What others change in the hall shows here within seconds: told by the server, or asked for where it cannot tell. */
import type { QueryClient } from "@tanstack/react-query";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { PAGE } from "../api/client";

/** Changes that come together are asked for together. */
const GATHER_MS = 400;
/** Without the server telling, what is shown is asked for again so often. */
const ASK_MS = 10_000;

/** What of what is shown hangs on a trainee: every query whose key names them, and those about everybody. */
const OF_EVERYBODY = ["today", "floor", "plan-week", "group", "run", "test-day", "trainees"];
/** What is edited against what was read: it is asked for again when it is next opened, and told apart when it is kept. */
const FORMS = ["intake", "measures", "along", "syllabus", "contact"];
const OF_HALL = ["kit", "syllabus", "test-day", "hall", "me", "bench", "groups", "class", "classes", "rooms"];

/** Have everything asked for again that a change, as the server tells it, makes old. */
function makeOld(queries: QueryClient, said: string) {
  const [kind, id, page] = said.split(" ");
  if (page === PAGE) return;
  const old = (key: readonly unknown[]) => {
    if (kind === "trainee") return key.includes(id) || OF_EVERYBODY.includes(String(key[0]));
    if (kind === "session") return key[0] === "session" && key.includes(id);
    // another syllabus judges everybody anew
    if (kind === "hall" && id === "syllabus_version") return true;
    if (kind === "hall") return OF_HALL.includes(String(key[0]));
    return true;
  };
  // what a coach fills in begins from what it was given: it is not taken from under their hands
  const form = (key: readonly unknown[]) => FORMS.includes(String(key[0]));
  void queries.invalidateQueries({ predicate: ({ queryKey }) => old(queryKey) && !form(queryKey) });
  void queries.invalidateQueries({
    predicate: ({ queryKey }) => old(queryKey) && form(queryKey),
    refetchType: "none",
  });
}

/** The tabs of a browser hear through one of them: a server keeps few connections for each browser. */
const TABS = "perch.changes";

/** Hear the server for all tabs, as long as this is the tab that does. Ends with the signal. */
function hearForAll(hear: (said: string) => void, ends: AbortSignal) {
  let asking: ReturnType<typeof setInterval> | undefined;
  let wasAway = false;
  const source = new EventSource("/api/changes");
  source.onmessage = (event: MessageEvent<string>) => hear(event.data);
  source.onopen = () => {
    clearInterval(asking);
    asking = undefined;
    // what happened while nobody told is not known
    if (wasAway) hear("everything");
    wasAway = false;
  };
  source.onerror = () => {
    wasAway = true;
    asking ??= setInterval(() => hear("everything"), ASK_MS);
  };
  return new Promise<void>((over) => {
    ends.addEventListener("abort", () => {
      source.close();
      clearInterval(asking);
      over();
    });
  });
}

/** Follow what others do in the hall, as long as somebody is signed in to it. */
export function useChanges(hall: string | undefined) {
  const queries = useQueryClient();
  useEffect(() => {
    if (!hall) return;
    const told = new Set<string>();
    const ends = new AbortController();
    const tabs = new BroadcastChannel(TABS);
    let gather: ReturnType<typeof setTimeout> | undefined;
    const hear = (said: string) => {
      told.add(said);
      gather ??= setTimeout(() => {
        gather = undefined;
        for (const one of told) makeOld(queries, one);
        told.clear();
      }, GATHER_MS);
    };
    tabs.onmessage = (event: MessageEvent<{ hall: string; said: string }>) => {
      if (event.data.hall === hall) hear(event.data.said);
    };
    const hearAndPassOn = (said: string) => {
      hear(said);
      tabs.postMessage({ hall, said });
    };
    // who asked first hears; when that tab goes, the next one does
    if (navigator.locks)
      void navigator.locks
        .request(`${TABS} ${hall}`, { signal: ends.signal }, () => hearForAll(hearAndPassOn, ends.signal))
        .catch(() => undefined);
    else void hearForAll(hear, ends.signal);
    return () => {
      ends.abort();
      tabs.close();
      clearTimeout(gather);
    };
  }, [hall, queries]);
}
