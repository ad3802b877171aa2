import { ask, client, type SessionPage } from "../api/client";
import {
  applyToSession,
  confirmedSession,
  confirmSession,
  forgetSession,
  type LiveSession,
  mergeSession,
  presentSession,
} from "./session";
import { type Followed, keepDelivered, useFollowed } from "./useFollowed";

const SESSION: Followed<LiveSession, SessionPage> = {
  name: "session",
  startsWith: "/sessions",
  ask: (id) => ask(client.GET("/api/sessions/{id}", { params: { path: { id } } })),
  ended: (page) => page.session.ended_as !== null,
  forget: forgetSession,
  confirmed: confirmedSession,
  confirm: confirmSession,
  merge: mergeSession,
  apply: applyToSession,
  present: presentSession,
  // in the middle of a session this browser knows it all: the server is asked when it ends
  makesOld: (letter) =>
    letter.path.endsWith("/end") ? ["session", "plan", "floor", "trainee", "today", "drill", "levers"] : [],
};
keepDelivered(SESSION);

/** Follow one session. */
export function useLiveSession(id: string) {
  const { live: session, page, error, waiting } = useFollowed(id, SESSION);
  return { session, page, error, waiting };
}
