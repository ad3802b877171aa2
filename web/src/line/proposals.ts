/** Tries that a film proposes for a test: kept in this browser until the coach has confirmed, corrected or dropped each. */
import type { FilmJudged } from "../api/client";
import { forget, read, write } from "../live/memory";

export type Hold = FilmJudged["holds"][number];

/** What a film proposes, and when it was filmed. */
export interface Proposals {
  filmed: string;
  holds: Hold[];
}

const forTrainee = (trainee: string) => `perch.film.${trainee}`;
const forRun = (run: string) => `perch.proposals.${run}`;

/** Tries found in a trainee's film, on their way to a test. */
export const proposedFor = (trainee: string) => read<Proposals>(forTrainee(trainee));
export const propose = (trainee: string, proposals: Proposals) => write(forTrainee(trainee), proposals);
export const withdraw = (trainee: string) => forget(forTrainee(trainee));

/** Tries that wait for the coach's word in a run. */
export const waitingIn = (run: string): Hold[] => read<Hold[]>(forRun(run)) ?? [];
export const waitIn = (run: string, holds: Hold[]) =>
  holds.length ? write(forRun(run), holds) : forget(forRun(run));
