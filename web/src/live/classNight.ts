/** A class night as this browser knows it: what the server laid out last, and on top of it what still waits in the outbox. */
import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { v7 as uuidv7 } from "uuid";
import { useClassPage } from "../api/classNight";
import type { ClassEvent, ClassPage } from "../api/client";
import { type Letter, onDelivered, post, waitingLetters } from "./outbox";
import { useOutboxVersion } from "./useFollowed";

type Happened = Omit<ClassEvent, "id" | "at">;
type Clock = Pick<ClassPage, "begun_at" | "held_since" | "held_s" | "minutes"> & {
  closed_at?: string | null;
};

/** Keep what happened in a class night, and send it. */
export function happenInClass(
  id: string,
  what: Partial<Happened> & { kind: Happened["kind"] },
  words: string,
) {
  post({
    path: `/api/classes/${id}/events`,
    body: { id: uuidv7(), at: new Date().toISOString(), ...what },
    run: id,
    words,
  });
}

/** Take back what happened last in a class night. */
export function takeBackInClass(id: string, event: string) {
  post({
    path: `/api/classes/${id}/events/${event}/strike`,
    body: undefined,
    run: id,
    words: "taking back what happened last in the class",
  });
}

/** What the evening's clock says at a moment, min from its beginning; null before it has begun. */
export function minuteOf(clock: Clock, moment: number): number | null {
  if (!clock.begun_at) return null;
  const ends = [moment, clock.held_since, clock.closed_at]
    .filter((x): x is string | number => x !== null && x !== undefined)
    .map((x) => new Date(x).getTime());
  return Math.max(0, (Math.min(...ends) - new Date(clock.begun_at).getTime()) / 1000 - clock.held_s) / 60;
}

/** The clock answers to a tap at once, whether a server does or not; the rest follows where it is worked out. */
function withLetter(page: ClassPage, letter: Letter): ClassPage {
  const said = letter.body as (Happened & { at: string }) | undefined;
  if (!letter.path.endsWith("/events") || !said) return page;
  if (said.kind === "begin") return { ...page, begun_at: page.begun_at ?? said.at };
  if (said.kind === "hold") return { ...page, held_since: page.held_since ?? said.at };
  if (said.kind === "longer") return { ...page, minutes: page.minutes + (said.minutes ?? 0) };
  if (said.kind !== "go" && said.kind !== "end") return page;
  const held = page.held_since
    ? (new Date(said.at).getTime() - new Date(page.held_since).getTime()) / 1000
    : 0;
  return {
    ...page,
    held_since: null,
    held_s: page.held_s + held,
    closed_at: said.kind === "end" ? said.at : page.closed_at,
  };
}

/** Follow one class night. */
export function useClassNight(id: string) {
  const queries = useQueryClient();
  useOutboxVersion();
  const query = useClassPage(id);
  useEffect(
    () =>
      onDelivered((letter) => {
        if (letter.run !== id) return;
        void queries.invalidateQueries({ queryKey: ["class", id] });
        void queries.invalidateQueries({ queryKey: ["classes"] });
      }),
    [id, queries],
  );
  const waiting = waitingLetters().filter((letter) => letter.run === id);
  const page = query.data ? waiting.reduce(withLetter, query.data) : undefined;
  return { page, error: query.error, pending: query.isPending };
}

/** Which block somebody is at, at a minute, and which comes next. */
export function whereAt<S extends { start_min: number; end_min: number }>(
  slots: readonly S[],
  minute: number,
) {
  const now = slots.find((s) => s.start_min <= minute && minute < s.end_min);
  const next = slots.find((s) => s.start_min > minute);
  return { now, next };
}
