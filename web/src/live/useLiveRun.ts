import { ask, client, type JudgedRun } from "../api/client";
import { applyLetter, confirm, confirmedRun, forgetRun, type LiveRun, merge, presentRun } from "./run";
import { type Followed, keepDelivered, useFollowed } from "./useFollowed";

const RUN: Followed<LiveRun, JudgedRun> = {
  name: "run",
  startsWith: "/runs",
  ask: (id) => ask(client.GET("/api/runs/{run}", { params: { path: { run: id } } })),
  ended: (judged) => judged.scored.run.ended_as !== null,
  forget: forgetRun,
  confirmed: confirmedRun,
  confirm,
  merge,
  apply: applyLetter,
  present: presentRun,
  makesOld: () => ["run", "trainee", "today", "bench", "tests", "drill", "test-day", "compare"],
};
keepDelivered(RUN);

/** Follow one run of a test. */
export function useLiveRun(id: string) {
  const { live: run, page: judged, error, waiting } = useFollowed(id, RUN);
  return { run, judged, error, waiting };
}
