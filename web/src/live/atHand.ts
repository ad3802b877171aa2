/**
 * What was read stays at hand in this browser, for when no server answers: the same answers, told to be of then. It is asked for
 * only where no answer comes, so nothing old is shown beside a server. One coach's in one hall; signing out drops it.
 */

import { clear, createStore, del, get, keys, set } from "idb-keyval";
import type { Coach } from "../api/client";

interface KeptAnswer {
  at: number;
  body: string;
}

/** What a session or a run is begun with, and what its people are looked up by. */
const AT_HAND = [
  /^\/api\/(me|today|trainees|groups|floor|kit|test-days|plan-week|rooms|classes)$/,
  /^\/api\/classes\/[^/]+$/,
  /^\/api\/trainees\/[^/]+(\/(floor|plan|tests|bench\/[^/]+|drills\/[^/]+|drawings))?$/,
  /^\/api\/test-days\/[^/]+$/,
];
/** A kept answer is let go after so long. */
const MOST_MS = 14 * 24 * 3600 * 1000;
/** A proxy before a server that is away says so by one of these. */
const AWAY = new Set([502, 503, 504]);

const store = createStore("perch-at-hand", "answers");
let whose = "";
let oldest = 0;
const listeners = new Set<() => void>();

function say(at: number) {
  if (at === oldest) return;
  oldest = at;
  for (const listener of listeners) listener();
}

/** When what is shown was read, ms, while no server answers; 0 while one does. */
export const shownAsOf = () => oldest;
/** Hear of every change of that; returns how to stop. */
export function onShownAsOf(listener: () => void) {
  listeners.add(listener);
  return () => {
    listeners.delete(listener);
  };
}

export const COACH = "perch.coach";
/** Who was signed in last, so that a start with the server away still finds what waits in this browser. */
export const rememberedCoach = (): Coach | undefined =>
  (JSON.parse(localStorage.getItem(COACH) ?? "null") as Coach | null) ?? undefined;

/** Say whose answers are kept from now on: another coach's, or another hall's, are none of theirs. */
export function keepFor(coach: string, hall: string) {
  whose = `${coach} ${hall}`;
}

const known = rememberedCoach();
if (known?.hall) keepFor(known.id, known.hall.id);

/** Drop everything: whoever was here signs out. */
export async function dropAtHand() {
  whose = "";
  await clear(store).catch(() => undefined);
}

/** Let go of what is too old, and of everybody else's. */
export async function tidyAtHand() {
  const all = await keys<string>(store).catch(() => []);
  for (const key of all) {
    const kept = key.startsWith(whose) ? await get<KeptAnswer>(key, store) : undefined;
    if (!kept || Date.now() - kept.at > MOST_MS) await del(key, store);
  }
}

const isAtHand = (request: Request, path: string) =>
  request.method === "GET" && AT_HAND.some((one) => one.test(path));

async function kept(key: string): Promise<Response | undefined> {
  const found = whose ? await get<KeptAnswer>(key, store).catch(() => undefined) : undefined;
  if (!found) return undefined;
  say(oldest ? Math.min(oldest, found.at) : found.at);
  return new Response(found.body, { headers: { "content-type": "application/json", age: "1" } });
}

/** Keep an answer that came before it was known whose it is. */
export const keepAnswer = (path: string, body: unknown) =>
  void set(
    `${whose} ${path}`,
    { at: Date.now(), body: JSON.stringify(body) } satisfies KeptAnswer,
    store,
  ).catch(() => undefined);

/** Ask the server; where no answer comes, what was answered last. Throws where there is neither. */
export async function fetchOrKept(request: Request): Promise<Response> {
  const { pathname, search } = new URL(request.url);
  if (!isAtHand(request, pathname)) return fetch(request);
  const key = `${whose} ${pathname}${search}`;
  let answer: Response;
  try {
    answer = await fetch(request);
  } catch (error) {
    // called off is not the same as not answered
    const found = request.signal.aborted ? undefined : await kept(key);
    if (found) return found;
    throw error;
  }
  if (AWAY.has(answer.status)) return (await kept(key)) ?? answer;
  if (answer.ok) {
    say(0);
    if (whose) {
      const copy = answer.clone();
      void copy
        .text()
        .then((body) => set(key, { at: Date.now(), body } satisfies KeptAnswer, store))
        .catch(() => undefined);
    }
  }
  return answer;
}
