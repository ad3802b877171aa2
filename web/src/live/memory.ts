/** What runs and sessions share in this browser: its storage, letters still waiting, and how the server's word and ours are joined. */
import { type Letter, waitingLetters } from "./outbox";

/** What is kept in this browser under a key, or null. */
export const read = <T>(key: string) => JSON.parse(localStorage.getItem(key) ?? "null") as T | null;
/** Keep something in this browser. */
export const write = (key: string, value: unknown) => localStorage.setItem(key, JSON.stringify(value));
/** Drop what is kept under these keys. */
export const forget = (...keys: string[]) => {
  for (const key of keys) localStorage.removeItem(key);
};

/** Keep a value under a key, or let it go. */
export const writeOrForget = (key: string, value: unknown) => (value ? write(key, value) : forget(key));

interface Struck {
  id: string;
  struck: boolean;
}

/** Mark one item as taken back. */
export const strike = <T extends Struck>(items: T[], id: string) =>
  items.map((item) => (item.id === id ? { ...item, struck: true } : item));

/** The items that count. */
export const notStruck = <T extends Struck>(items: T[]) => items.filter((item) => !item.struck);

/** Join what the server says with what this browser saw confirmed: the server never deletes, so an item it lacks is on its way. */
export function joinItems<T extends Struck>(server: T[], known: T[] | undefined): T[] {
  const ids = new Set(server.map((item) => item.id));
  const struckHere = new Set(known?.filter((item) => item.struck).map((item) => item.id));
  return [
    ...server.map((item) => ({ ...item, struck: item.struck || struckHere.has(item.id) })),
    ...(known?.filter((item) => !ids.has(item.id)) ?? []),
  ];
}

/** Something live at this very moment, with every letter on top that still waits: a second tap may come before the page has drawn the first. */
export const withWaiting = <T>(
  id: string,
  known: T | null,
  apply: (known: T | null, letter: Letter) => T | null,
): T | null =>
  waitingLetters()
    .filter((letter) => letter.run === id)
    .reduce(apply, known);
