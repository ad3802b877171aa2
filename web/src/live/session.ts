/** A session as this browser knows it: what the server confirmed, and on top of it what still waits in the outbox. */
import { v7 as uuidv7 } from "uuid";
import type { FloorSheet, RunEnd, SessionPage, Trainee } from "../api/client";
import { type Happened, walkFloor } from "./floor";
import { forget, joinItems, notStruck, read, strike, withWaiting, write, writeOrForget } from "./memory";
import { type Letter, post } from "./outbox";

/** One event of a session under way; a struck one stays. */
export interface LiveEvent {
  id: string;
  at: string;
  struck: boolean;
  what: Happened;
}

/** A session under way as this browser keeps it. */
export interface LiveSession {
  id: string;
  trainee: string;
  name: string;
  /** What the coach keeps about the trainee, as the cue that works. */
  note: string;
  startedAt: string;
  sheet: FloorSheet;
  events: LiveEvent[];
  endedAs: RunEnd | null;
}

interface StartBody {
  id: string;
  started_at: string;
  source: "live";
  sheet: FloorSheet;
}

const sessionKey = (id: string) => `perch.session.${id}`;
const nameKey = (id: string) => `perch.session.name.${id}`;
const handKey = (id: string) => `perch.session.hand.${id}`;

/** The session as the server had it last. */
export const confirmedSession = (id: string) => read<LiveSession>(sessionKey(id));
/** Keep a session as the server has it. */
export const confirmSession = (session: LiveSession) => write(sessionKey(session.id), session);
/** A session that has ended is the server's to remember. */
export function forgetSession(id: string) {
  forget(sessionKey(id), nameKey(id), handKey(id));
}

const STRIKE = /\/events\/(.+)\/strike$/;

/** Apply one letter to a session; null stands for one not yet known. */
export function applyToSession(session: LiveSession | null, letter: Letter): LiveSession | null {
  if (letter.path.endsWith("/sessions")) {
    const body = letter.body as StartBody;
    return (
      session ?? {
        id: body.id,
        trainee: letter.path.split("/")[3] ?? "",
        ...(read<{ name: string; note: string }>(nameKey(body.id)) ?? { name: "", note: "" }),
        startedAt: body.started_at,
        sheet: body.sheet,
        events: [],
        endedAs: null,
      }
    );
  }
  if (!session) return null;
  const struck = STRIKE.exec(letter.path)?.[1];
  if (struck) return { ...session, events: strike(session.events, struck) };
  if (letter.path.endsWith("/events")) {
    const { id, at, ...what } = letter.body as { id: string; at: string } & Happened;
    if (session.events.some((e) => e.id === id)) return session;
    return { ...session, events: [...session.events, { id, at, struck: false, what }] };
  }
  if (letter.path.endsWith("/end"))
    return { ...session, endedAs: (letter.body as { ended_as: RunEnd }).ended_as };
  return session;
}

/** Join what the server says with what this browser saw confirmed: the server never deletes, so what it lacks is on its way. */
export function mergeSession(known: LiveSession | null, page: SessionPage): LiveSession {
  const { session, trainee } = page;
  const events = session.events.map((e) => ({
    id: e.id,
    at: e.at,
    struck: e.struck_at !== null,
    what: e.what as Happened,
  }));
  return {
    id: session.id,
    trainee: session.trainee,
    name: trainee.name,
    note: trainee.note,
    startedAt: session.started_at,
    sheet: session.sheet,
    endedAs: session.ended_as ?? known?.endedAs ?? null,
    events: joinItems(events, known?.events),
  };
}

/** The session at this very moment. */
export const presentSession = (id: string, known: LiveSession | null = confirmedSession(id)) =>
  withWaiting(id, known, applyToSession);

/** The events that are not struck out. */
export const standing = (session: LiveSession) => notStruck(session.events);
/** Where a session stands by its events. */
export const whereSession = (session: LiveSession) =>
  walkFloor(
    session.sheet,
    standing(session).map((e) => e.what),
  );

// --- what the coach does: each is one letter -------------------------------------------------------------------

/** Begin a session: kept here first, then sent. Returns its id. */
export function startSession({ id: trainee, name, note }: Trainee, sheet: FloorSheet): string {
  const id = uuidv7();
  write(nameKey(id), { name, note });
  const body: StartBody = { id, started_at: new Date().toISOString(), source: "live", sheet };
  post({ path: `/api/trainees/${trainee}/sessions`, body, run: id, words: `the start of ${name}'s session` });
  return id;
}

/** Keep one event, and send it; `words` say it in the outbox. */
export function happen(session: LiveSession, what: Happened, words: string) {
  post({
    path: `/api/sessions/${session.id}/events`,
    body: { id: uuidv7(), at: new Date().toISOString(), ...what },
    run: session.id,
    words: `${session.name}: ${words}`,
  });
}

/** Take back the last thing that happened; how the day began stays. */
export function takeBackLast(session: LiveSession) {
  const present = presentSession(session.id, confirmedSession(session.id) ?? session) ?? session;
  const last = standing(present).at(-1);
  if (!last || last.what.kind === "ready") return;
  post({
    path: `/api/sessions/${session.id}/events/${last.id}/strike`,
    body: undefined,
    run: session.id,
    words: `${session.name}: taking back ${last.what.kind === "set" ? "a set" : "a change"}`,
  });
}

/** End a session: kept here first, then sent. */
export function endSession(session: LiveSession, ended_as: RunEnd, note = "") {
  post({
    path: `/api/sessions/${session.id}/end`,
    body: { ended_at: new Date().toISOString(), ended_as, note },
    run: session.id,
    words: `the end of ${session.name}'s session`,
  });
}

// --- the set in hand, kept so that a reload goes on with it -----------------------------------------------------

/** The set in hand, so that a reload goes on with it. */
export interface Hand {
  /** The block and set this belongs to; another one begins afresh. */
  of: string;
  /** Wall-clock start of the clock, ms. */
  since?: number;
  /** Seconds, once the clock has stopped. */
  stopped?: number;
  /** Reps, touches or cm as counted or set by hand. */
  count?: number;
  /** What followed in a round, s. */
  after?: number;
}

/** The set in hand of a session. */
export const readHand = (id: string) => read<Hand>(handKey(id));
/** Keep or drop the set in hand. */
export const writeHand = (id: string, hand: Hand | null) => writeOrForget(handKey(id), hand);
