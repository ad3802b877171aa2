/** A run as this browser knows it: what the server confirmed, and on top of it what still waits in the outbox. */
import { v7 as uuidv7 } from "uuid";
import type { Fell, Form, KeptTry, Outcome, ScoredRun } from "../api/client";
import { type Letter, post, waitingLetters } from "./outbox";

type ServerRun = ScoredRun["run"];
export type LiveTry = Pick<
  KeptTry,
  "id" | "number" | "at" | "outcome" | "seconds" | "fell" | "form" | "early"
> & {
  struck: boolean;
};

export interface LiveRun {
  id: string;
  trainee: string;
  startedAt: string;
  restS: number;
  endedAs: ServerRun["ended_as"];
  tries: LiveTry[];
}

interface StartBody {
  id: string;
  started_at: string;
  rest_s: number;
  room: string;
}
interface EndBody {
  ended_at: string;
  ended_as: NonNullable<ServerRun["ended_as"]>;
  pain_joint?: string;
  pain_level?: number;
}
export type TryBody = Omit<LiveTry, "struck">;

const STRIKE = /^\/api\/evidence\/(.+)\/strike$/;

/** Apply one letter to a run; null stands for a run not yet known. */
export function applyLetter(run: LiveRun | null, letter: Letter): LiveRun | null {
  if (letter.path.endsWith("/runs")) {
    const body = letter.body as StartBody;
    const trainee = letter.path.split("/")[3] ?? "";
    return (
      run ?? {
        id: body.id,
        trainee,
        startedAt: body.started_at,
        restS: body.rest_s,
        endedAs: null,
        tries: [],
      }
    );
  }
  if (!run) return null;
  const struck = STRIKE.exec(letter.path)?.[1];
  if (struck) return { ...run, tries: run.tries.map((t) => (t.id === struck ? { ...t, struck: true } : t)) };
  if (letter.path.endsWith("/tries")) {
    const made = { ...(letter.body as TryBody), struck: false };
    return run.tries.some((t) => t.id === made.id) ? run : { ...run, tries: [...run.tries, made] };
  }
  if (letter.path.endsWith("/end")) return { ...run, endedAs: (letter.body as EndBody).ended_as };
  return run;
}

/** Join what the server says with what this browser saw confirmed: the server never deletes, so a try it lacks is on its way. */
export function merge(known: LiveRun | null, server: ServerRun): LiveRun {
  const tries = server.tries.map((t) => ({ ...t, struck: t.struck_at !== null }));
  const ids = new Set(tries.map((t) => t.id));
  const struckHere = new Set(known?.tries.filter((t) => t.struck).map((t) => t.id));
  return {
    id: server.id,
    trainee: server.trainee,
    startedAt: server.started_at,
    restS: server.rest_s,
    endedAs: server.ended_as ?? known?.endedAs ?? null,
    tries: [
      ...tries.map((t) => ({ ...t, struck: t.struck || struckHere.has(t.id) })),
      ...(known?.tries.filter((t) => !ids.has(t.id)) ?? []),
    ],
  };
}

const runKey = (id: string) => `perch.run.${id}`;

export function confirmedRun(id: string): LiveRun | null {
  return JSON.parse(localStorage.getItem(runKey(id)) ?? "null") as LiveRun | null;
}

export function confirm(run: LiveRun) {
  localStorage.setItem(runKey(run.id), JSON.stringify(run));
}

/** A run that has ended is the server's to remember. */
export function forgetRun(id: string) {
  localStorage.removeItem(runKey(id));
  localStorage.removeItem(holdKey(id));
}

/** The tries that count, by number. */
export const standingTries = (run: LiveRun) =>
  run.tries.filter((t) => !t.struck).sort((a, b) => a.number - b.number);

// --- what the coach does: each is one letter -------------------------------------------------------------------

export function startRun(trainee: string, restS: number, room: string): string {
  const id = uuidv7();
  const body = { id, started_at: new Date().toISOString(), rest_s: restS, room };
  post({ path: `/api/trainees/${trainee}/runs`, body, run: id, words: "the start of ten free tries" });
  return id;
}

export interface NewTry {
  outcome: Outcome;
  seconds: number | null;
  fell: Fell | null;
  form: Form | null;
  early: boolean;
}

/** The run at this very moment: a second tap may come before the page has drawn the first one's try. */
export const presentRun = (run: LiveRun) =>
  waitingLetters()
    .filter((letter) => letter.run === run.id)
    .reduce(applyLetter, confirmedRun(run.id) ?? run) ?? run;

export function addTry(run: LiveRun, made: NewTry, most: number) {
  const before = standingTries(presentRun(run));
  if (before.length >= most) return;
  const number = Math.max(0, ...before.map((t) => t.number)) + 1;
  const body = { id: uuidv7(), number, at: new Date().toISOString(), ...made };
  const what = made.seconds === null ? made.outcome : `held ${made.seconds} s`;
  post({ path: `/api/runs/${run.id}/tries`, body, run: run.id, words: `try ${number}, ${what}` });
}

export function takeBack(run: LiveRun) {
  const last = standingTries(presentRun(run)).at(-1);
  if (last)
    post({
      path: `/api/evidence/${last.id}/strike`,
      body: undefined,
      run: run.id,
      words: `taking back try ${last.number}`,
    });
}

export function endRun(run: LiveRun, how: Omit<EndBody, "ended_at">) {
  const body = { ended_at: new Date().toISOString(), ...how };
  post({ path: `/api/runs/${run.id}/end`, body, run: run.id, words: "the end of ten free tries" });
}

// --- the hold in hand, kept so that a reload goes on with it ---------------------------------------------------

export interface Hold {
  /** Wall-clock start, ms. */
  since: number;
  /** Seconds held, once stopped. */
  stopped?: number;
  early: boolean;
  form: Form | null;
}

const holdKey = (id: string) => `perch.hold.${id}`;

export const readHold = (id: string) =>
  JSON.parse(localStorage.getItem(holdKey(id)) ?? "null") as Hold | null;

export function writeHold(id: string, hold: Hold | null) {
  if (hold) localStorage.setItem(holdKey(id), JSON.stringify(hold));
  else localStorage.removeItem(holdKey(id));
}

/** Whole tenths, rounded down: a hold of 9.96 s is not shown, or kept, as 10. */
export const tenths = (ms: number) => Math.floor(Math.max(0, ms) / 100) / 10;
