/**
 * The outbox: everything a coach enters live is written to this browser first, under an id of its own, and then sent in order.
 * A send that gets no answer is sent again; the server keeps each id once, so nothing is lost and nothing is doubled.
 */
import { v7 as uuidv7 } from "uuid";
import { failureOf, HALL_HEADER, inHall, OTHER_HALL, PAGE, PAGE_HEADER } from "../api/client";

/** One write on its way to the server. */
export interface Letter {
  /** Orders the letters; ids of version 7 grow with time. */
  key: string;
  path: string;
  body: unknown;
  /** The hall it was entered in; what was written before there were halls is its coach's first. */
  hall?: string;
  /** The run this belongs to, where it belongs to one. */
  run?: string;
  /** What it is, in words, for when the server refuses it. */
  words: string;
  refused?: string;
}

type Listener = () => void;
type Delivered = (letter: Letter) => void;

const PREFIX = "perch.outbox";
let owner = "";
let open = "";
let timer: ReturnType<typeof setTimeout> | undefined;
let wait = 0;
let version = 0;
let signedOut = false;
const listeners = new Set<Listener>();
const deliveredTo = new Set<Delivered>();

const storageKey = (key: string) => `${PREFIX}.${owner}.${key}`;

function changed() {
  version += 1;
  for (const listener of listeners) listener();
}

/** Letters wait per coach and hall: on a shared tablet one coach's results are never sent in another's name, nor into another hall. */
export function openOutbox(coach: string, hall: string) {
  if (owner === coach && open === hall && !signedOut) return;
  owner = coach;
  open = hall;
  signedOut = false;
  wait = 0;
  changed();
  void send();
}

function read(): Letter[] {
  const prefix = `${PREFIX}.${owner}.`;
  return Object.keys(localStorage)
    .filter((key) => key.startsWith(prefix))
    .sort()
    .map((key) => JSON.parse(localStorage.getItem(key) ?? "null") as Letter)
    .filter((letter) => Boolean(letter) && (letter.hall ?? owner) === open);
}

/** What has not been sent yet, in order. */
export const waitingLetters = () => (owner ? read().filter((letter) => !letter.refused) : []);
/** What the server would not take, with its reason. */
export const refusedLetters = () => (owner ? read().filter((letter) => letter.refused) : []);

/** Keep a letter and begin sending. It is in the browser's storage before this returns. */
export function post(letter: Omit<Letter, "key">) {
  const whole = { ...letter, hall: inHall(), key: uuidv7() };
  localStorage.setItem(storageKey(whole.key), JSON.stringify(whole));
  changed();
  wait = 0;
  void send();
}

/** Send a refused letter again, as it was: what stood in its way may be gone. */
export function sendAgain(key: string) {
  const kept = localStorage.getItem(storageKey(key));
  if (!kept) return;
  const { refused, ...letter } = JSON.parse(kept) as Letter;
  localStorage.setItem(storageKey(key), JSON.stringify(letter));
  changed();
  wait = 0;
  void send();
}

/** Refused letters as a file's text: what was entered, where it was to go, and why it was not taken. */
export const asFile = (letters: Letter[]) =>
  JSON.stringify(
    letters.map(({ words, path, body, refused }) => ({ what: words, sent_to: path, body, refused })),
    null,
    1,
  );

/** Forget a refused letter, once the coach has it as a file. */
export function forget(key: string) {
  localStorage.removeItem(storageKey(key));
  changed();
}

/** Hear of every change of the outbox; returns how to stop. */
export function subscribe(listener: Listener) {
  listeners.add(listener);
  return () => {
    listeners.delete(listener);
  };
}

/** Counts up with every change, so that a screen knows to look again. */
export const outboxVersion = () => version;

/** Be told of each letter the server has kept, before it leaves the outbox. */
export function onDelivered(told: Delivered) {
  deliveredTo.add(told);
  return () => {
    deliveredTo.delete(told);
  };
}

let sending = false;

async function send() {
  clearTimeout(timer);
  if (sending || !owner || signedOut) return;
  sending = true;
  try {
    // one tab sends at a time, so that letters arrive in their order
    if (navigator.locks) await navigator.locks.request(PREFIX, drain);
    else await drain();
  } finally {
    sending = false;
  }
  if (waitingLetters().length && !signedOut) {
    wait = Math.min(wait ? wait * 2 : 500, 8000);
    timer = setTimeout(() => void send(), wait);
  }
}

async function drain() {
  for (let letter = waitingLetters()[0]; letter; letter = waitingLetters()[0]) {
    if (!(await deliver(letter, owner))) return;
  }
}

/** Send one letter; false means: stop for now and try again later. */
async function deliver(letter: Letter, sender: string): Promise<boolean> {
  let answer: Response;
  try {
    answer = await fetch(letter.path, {
      method: "POST",
      headers: {
        [HALL_HEADER]: open,
        [PAGE_HEADER]: PAGE,
        ...(letter.body === undefined ? {} : { "Content-Type": "application/json" }),
      },
      ...(letter.body === undefined ? {} : { body: JSON.stringify(letter.body) }),
      signal: AbortSignal.timeout(15_000),
    });
  } catch {
    return false;
  }
  if (sender !== owner) return false;
  // another tab went to another hall: what waits is sent when this one is open again
  if (answer.status === OTHER_HALL) return false;
  if (answer.status === 401) {
    signedOut = true;
    changed();
    return false;
  }
  if (answer.status >= 500 || answer.status === 429 || answer.status === 408) return false;
  if (answer.ok) {
    for (const told of deliveredTo) told(letter);
    localStorage.removeItem(storageKey(letter.key));
  } else {
    const failure = failureOf(answer.status, await answer.json().catch(() => undefined));
    localStorage.setItem(storageKey(letter.key), JSON.stringify({ ...letter, refused: failure.message }));
  }
  wait = 0;
  changed();
  return true;
}

/** Whether sending waits for a sign-in. */
export const isSignedOut = () => signedOut;

/** Stop sending: the coach signs out. What waits stays for this coach's next sign-in. */
export function closeOutbox() {
  owner = "";
  changed();
}

window.addEventListener("online", () => void send());
document.addEventListener("visibilitychange", () => {
  if (document.visibilityState === "visible") void send();
});
