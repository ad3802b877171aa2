/**
 * Has at hand what today's and tomorrow's people need, so that a session or a test can be begun where no server answers: their
 * sheets, their plan, their tests. Asked for one after the other, while nothing else is, and once in a while.
 */
import { useEffect } from "react";
import { client } from "../api/client";
import { dayIn, shifted } from "../parts/words";
import { keepFor, tidyAtHand } from "./atHand";
import { fetchesNothing, whenItStands } from "./whenItStands";

const EVERY_MS = 30 * 60_000;
/** Between two questions: whoever works on the page comes first. */
const PAUSE_MS = 120;
/** So many people's at most, for each day. */
const MOST = 40;

const pause = () => new Promise((on) => setTimeout(on, PAUSE_MS));

async function ready(id: string, day: string, tests: DueTest[] | null) {
  const path = { id };
  await client.GET("/api/trainees/{id}/floor", { params: { path, query: { day } } });
  if (!tests) return;
  await client.GET("/api/trainees/{id}", { params: { path } });
  const all = await client.GET("/api/trainees/{id}/tests", { params: { path } });
  // what is run most stands first
  const first = all.data?.tests.slice(0, 1).map(({ test }) => ({ test, subject: "" })) ?? [];
  for (const { test, subject } of [...first, ...tests]) {
    await pause();
    await client.GET("/api/trainees/{id}/bench/{test}", {
      params: { path: { id, test }, query: { subject } },
    });
  }
}

interface DueTest {
  test: string;
  subject: string;
}

/** The tests that Today names of somebody, and the usual one. */
async function testsOfToday(): Promise<Map<string, DueTest[]>> {
  const rows = (await client.GET("/api/today")).data ?? [];
  const due = (row: (typeof rows)[number]) =>
    (row.brief?.matters ?? []).flatMap((m) =>
      m.test && !m.run ? [{ test: m.test, subject: m.drill ?? "" }] : [],
    );
  return new Map(rows.map((row) => [row.id, due(row)]));
}

/** The class nights of a day, and who is in them. */
async function inClass(day: string): Promise<string[]> {
  const nights = (await client.GET("/api/classes")).data ?? [];
  const found: string[] = [];
  for (const night of nights.filter((n) => n.day === day && n.state !== "over")) {
    await pause();
    const page = await client.GET("/api/classes/{id}", { params: { path: { id: night.id } } });
    found.push(...(page.data?.told.people ?? []).map((p) => p.trainee));
  }
  return found;
}

async function haveAtHand(zone: string, stopped: () => boolean) {
  const today = dayIn(zone);
  await client.GET("/api/trainees");
  const tests = await testsOfToday();
  for (const day of [today, shifted(today, 1)]) {
    const there = await client.GET("/api/floor", { params: { query: { day } } });
    const planned = (there.data ?? []).map((x) => x.trainee.id);
    const people = new Set([...planned, ...(day === today ? await inClass(day) : [])]);
    for (const id of [...people].slice(0, MOST)) {
      while (!fetchesNothing()) await pause();
      if (stopped()) return;
      await pause();
      await ready(id, day, day === today ? (tests.get(id) ?? []) : null);
    }
  }
}

/** Keep the day's people at hand as long as this coach is signed in to this hall. */
export function useTheDay(coach: string, hall: string, zone: string) {
  useEffect(() => {
    if (!coach || !hall) return;
    keepFor(coach, hall);
    let stop: (() => void) | undefined;
    const callOff = whenItStands(() => {
      void tidyAtHand();
      stop = keepTheDay(zone);
    });
    return () => {
      callOff();
      stop?.();
    };
  }, [coach, hall, zone]);
}

function keepTheDay(zone: string) {
  let stopped = false;
  const run = () => {
    if (document.visibilityState === "visible") void haveAtHand(zone, () => stopped).catch(() => undefined);
  };
  run();
  const timer = setInterval(run, EVERY_MS);
  return () => {
    stopped = true;
    clearInterval(timer);
  };
}
