/** A run as this browser knows it: what the server confirmed, and on top of it what still waits in the outbox. */
import { v7 as uuidv7 } from "uuid";
import type {
  BenchPage,
  Fell,
  Form,
  JudgedRun,
  KeptTry,
  Mode,
  RunEnd,
  Sheet,
  Side,
  Test,
} from "../api/client";
import { forget, joinItems, notStruck, read, strike, withWaiting, write, writeOrForget } from "./memory";
import { type Letter, post } from "./outbox";
import { type ByHand, type Now, walk } from "./sheet";

type ServerRun = JudgedRun["scored"]["run"];
type Kept = Pick<
  KeptTry,
  | "id"
  | "number"
  | "at"
  | "outcome"
  | "value"
  | "mode"
  | "level"
  | "side"
  | "fell"
  | "form"
  | "early"
  | "note"
>;
/** A try of a run under way; a struck one stays and is replaced. */
export type LiveTry = Kept & { struck: boolean; replaces: string | null };

/** What a run follows: its test as data, the sheet, and what its settings are in this trainee's own body units. */
export interface Protocol {
  test: Test;
  title: string;
  sheet: Sheet;
  inBody: Record<string, string>;
  lines: Record<string, number>;
}

/** A run under way as this browser keeps it. */
export interface LiveRun {
  id: string;
  trainee: string;
  startedAt: string;
  restS: number;
  room: string;
  paper: boolean;
  /** Tries that a film proposes; they are kept one by one. */
  film: boolean;
  dial: Record<string, number>;
  endedAs: RunEnd | null;
  protocol: Protocol;
  tries: LiveTry[];
}

interface StartBody {
  id: string;
  test: string;
  subject: string;
  started_at: string;
  rest_s: number;
  room: string;
  dial: Record<string, number>;
  source: "live" | "after" | "film";
  begin: number | null;
  test_day: string | null;
}
interface EndBody {
  ended_at: string;
  ended_as: RunEnd;
  pain_joint?: string;
  pain_level?: number;
  confidence?: number | null;
}
type TryBody = Kept & { test: string };

const STRIKE = /^\/api\/evidence\/(.+)\/strike$/;
const CORRECT = /\/tries\/(.+)\/correct$/;

/** Apply one letter to a run; null stands for a run not yet known. */
export function applyLetter(run: LiveRun | null, letter: Letter): LiveRun | null {
  if (letter.path.endsWith("/runs")) {
    const body = letter.body as StartBody;
    const protocol = protocolOf(body.id);
    if (run || !protocol) return run;
    return {
      id: body.id,
      trainee: letter.path.split("/")[3] ?? "",
      startedAt: body.started_at,
      restS: body.rest_s,
      room: body.room,
      paper: body.source !== "live",
      film: body.source === "film",
      dial: body.dial,
      endedAs: null,
      protocol,
      tries: [],
    };
  }
  if (!run) return null;
  const struck = STRIKE.exec(letter.path)?.[1];
  if (struck) return { ...run, tries: strike(run.tries, struck) };
  const corrected = CORRECT.exec(letter.path)?.[1];
  if (corrected) return withCorrection(run, corrected, letter.body as Omit<Kept, "number" | "at" | "early">);
  if (letter.path.endsWith("/tries")) {
    const made = { ...(letter.body as TryBody), struck: false, replaces: null };
    return run.tries.some((t) => t.id === made.id) ? run : { ...run, tries: [...run.tries, made] };
  }
  if (letter.path.endsWith("/end")) return { ...run, endedAs: (letter.body as EndBody).ended_as };
  return run;
}

function withCorrection(run: LiveRun, old: string, figures: Omit<Kept, "number" | "at" | "early">): LiveRun {
  const was = run.tries.find((t) => t.id === old);
  if (!was || run.tries.some((t) => t.id === figures.id)) return run;
  const put = { ...was, ...figures, replaces: old, struck: false };
  return { ...run, tries: [...strike(run.tries, old), put] };
}

/** Join what the server says with what this browser saw confirmed: the server never deletes, so a try it lacks is on its way. */
export function merge(known: LiveRun | null, judged: JudgedRun): LiveRun {
  const server: ServerRun = judged.scored.run;
  const tries = server.tries.map((t) => ({ ...t, struck: t.struck_at !== null }));
  return {
    id: server.id,
    trainee: server.trainee,
    startedAt: server.started_at,
    restS: server.rest_s,
    room: server.room,
    paper: server.source === "after" || server.source === "film",
    film: server.source === "film",
    dial: server.dial,
    endedAs: server.ended_as ?? known?.endedAs ?? null,
    protocol: {
      test: judged.test,
      title: judged.scored.title,
      sheet: judged.sheet,
      inBody: judged.in_body,
      lines: judged.lines,
    },
    tries: joinItems<LiveTry>(tries, known?.tries),
  };
}

const runKey = (id: string) => `perch.run.${id}`;
const protocolKey = (id: string) => `perch.protocol.${id}`;

/** The run as the server had it last. */
export const confirmedRun = (id: string) => read<LiveRun>(runKey(id));
/** Keep a run as the server has it. */
export const confirm = (run: LiveRun) => write(runKey(run.id), run);
const protocolOf = (id: string) => read<Protocol>(protocolKey(id));

/** A run that has ended is the server's to remember. */
export function forgetRun(id: string) {
  forget(runKey(id), protocolKey(id), holdKey(id), handKey(id));
}

/** The tries that count, by number. */
export const standingTries = (run: LiveRun) => notStruck(run.tries).sort((a, b) => a.number - b.number);

/** The run at this very moment. */
export const presentRun = (id: string, known: LiveRun | null = confirmedRun(id)) =>
  withWaiting(id, known, applyLetter);

/** Where the run stands by its sheet, with what the coach chose by hand. */
export const whereNow = (run: LiveRun): Now =>
  walk(run.protocol.sheet, standingTries(run), read<ByHand>(handKey(run.id)));

// --- what the coach does: each is one letter -------------------------------------------------------------------

/** How a run begins: rests, room, dial, and what it belongs to. */
export interface Start {
  restS: number;
  room: string;
  dial: Record<string, number>;
  paper?: string | undefined;
  /** When it was filmed, where tries are taken from a film. */
  film?: string | undefined;
  testDay?: string | undefined;
}

/** Begin a run of the test that was made ready; `paper` is when a sheet of paper was written. */
export function startRun(page: BenchPage, how: Start): string {
  const id = uuidv7();
  const protocol: Protocol = {
    test: page.test,
    title: page.title,
    sheet: page.sheet,
    inBody: page.in_body,
    lines: page.lines,
  };
  write(protocolKey(id), protocol);
  const body: StartBody = {
    id,
    test: page.test.test,
    subject: page.subject?.drill ?? "",
    started_at: how.film ?? how.paper ?? new Date().toISOString(),
    rest_s: how.restS,
    room: how.room,
    dial: how.dial,
    source: how.film ? "film" : how.paper ? "after" : "live",
    begin: page.begin,
    test_day: how.testDay ?? null,
  };
  post({
    path: `/api/trainees/${page.trainee.id}/runs`,
    body,
    run: id,
    words: `the start of ${page.test.title}`,
  });
  return id;
}

/** A try as it is entered. */
export interface NewTry {
  outcome: string;
  value: number | null;
  fell: Fell | null;
  form: Form | null;
  level: number | null;
  early: boolean;
}

/** Keep a try where the run stands now; nothing is kept once the run is over. */
export function addTry(run: LiveRun, made: NewTry) {
  const present = presentRun(run.id, confirmedRun(run.id) ?? run) ?? run;
  const { step } = whereNow(present);
  if (!step) return;
  const number = Math.max(0, ...standingTries(present).map((t) => t.number)) + 1;
  const body: TryBody = {
    id: uuidv7(),
    test: run.protocol.test.test,
    number,
    at: new Date().toISOString(),
    mode: step.mode,
    side: (step.side ?? null) as Side | null,
    note: "",
    ...made,
  };
  const what = made.value === null ? made.outcome : `${made.outcome} ${made.value}`;
  post({ path: `/api/runs/${run.id}/tries`, body, run: run.id, words: `try ${number}, ${what}` });
}

/** Take back the last thing that was done: going on by hand, if no try was made since, or else the last try. */
export function takeBack(run: LiveRun) {
  const standing = standingTries(presentRun(run.id, confirmedRun(run.id) ?? run) ?? run);
  const chosen = read<ByHand>(handKey(run.id))?.after === standing.length;
  forget(handKey(run.id));
  if (chosen) return;
  const last = standing.at(-1);
  if (last)
    post({
      path: `/api/evidence/${last.id}/strike`,
      body: undefined,
      run: run.id,
      words: `taking back try ${last.number}`,
    });
}

/** What can be put right of a try. */
export type Putting = Pick<Kept, "outcome" | "value" | "mode" | "level" | "side" | "fell" | "form" | "note">;

/** Put a try right; the old value stays kept. */
export function correctTry(run: LiveRun, old: LiveTry, figures: Putting) {
  post({
    path: `/api/runs/${run.id}/tries/${old.id}/correct`,
    body: { id: uuidv7(), ...figures },
    run: run.id,
    words: `putting try ${old.number} right`,
  });
}

/** End a run: kept here first, then sent. */
export function endRun(run: LiveRun, how: Omit<EndBody, "ended_at">) {
  const body = { ended_at: new Date().toISOString(), ...how };
  post({
    path: `/api/runs/${run.id}/end`,
    body,
    run: run.id,
    words: `the end of ${run.protocol.test.title}`,
  });
}

// --- the try in hand, kept so that a reload goes on with it -----------------------------------------------------

/** A hold or a window under way, so that a reload goes on with it. */
export interface Hold {
  /** Wall-clock start, ms. */
  since: number;
  /** The figure, once the try has stopped. */
  stopped?: number;
  /** Touches or reps counted so far. */
  count: number;
  early: boolean;
  form: Form | null;
}

const holdKey = (id: string) => `perch.hold.${id}`;
const handKey = (id: string) => `perch.hand.${id}`;

/** The hold under way of a run. */
export const readHold = (id: string) => read<Hold>(holdKey(id));

/** Keep or drop the hold under way. */
export const writeHold = (id: string, hold: Hold | null) => writeOrForget(holdKey(id), hold);

/** Go on by hand: after the tries there are now, the run stands at this step or end. */
export function goOnByHand(run: LiveRun, to: string) {
  const byHand: ByHand = { after: standingTries(run).length, to };
  write(handKey(run.id), byHand);
}

/** The way of measuring of that name. */
export const modeOf = (test: Test, name: string): Mode =>
  (test.modes.find((m) => m.mode === name) ?? test.modes[0]) as Mode;

/** Whole tenths, rounded down: a hold of 9.96 s is not shown, or kept, as 10. */
export const tenths = (ms: number) => Math.floor(Math.max(0, ms) / 100) / 10;
