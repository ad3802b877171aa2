/** One typed client for the api, and the types that screens speak in. */
import createClient from "openapi-fetch";
import { v7 as uuidv7 } from "uuid";
import { fetchOrKept, rememberedCoach } from "../live/atHand";
import type { components, paths } from "./schema";

/** Pairs are read as plain arrays; and the server writes every field, those with a default too. */
type AsRead<T> = T extends readonly (infer Item)[]
  ? AsRead<Item>[]
  : T extends object
    ? { [Key in keyof T]-?: AsRead<T[Key]> }
    : T;
type Schemas = AsRead<components["schemas"]>;
// the types below say in the server's document what they are; here each only gets its name
export type Coach = Schemas["Me"];
export type Role = NonNullable<Coach["role"]>;
export type TrainingGroup = Schemas["TrainingGroup"];
export type ClassPage = Schemas["ClassPage"];
export type ClassSlot = Schemas["SlotTold"];
export type ClassPerson = Schemas["PersonTold"];
export type ClassEvent = Schemas["NewNightEvent"];
export type DisplayPage = Schemas["DisplayPage"];
export type DisplayPerson = Schemas["DisplayPerson"];
export type TrainingRoom = Schemas["TrainingRoom"];
export type StationKind = Schemas["StationKind"];
export type Evening = Schemas["Evening"];
export type FirstEvening = Schemas["FirstEvening"];
export type HallPage = Schemas["HallPage"];
export type HallHistory = Schemas["HallHistory"];
export type Handed = Schemas["Handed"];
export type LinkShown = Schemas["LinkShown"];
export type Trainee = Schemas["Trainee"];
export type TodayTrainee = Schemas["TodayTrainee"];
export type Matter = Schemas["Matter"];
export type SmallBay = Schemas["SmallBay"];
export type TraineePage = Schemas["TraineePage"];
export type LineStanding = Schemas["LineStanding"];
export type DrillStanding = Schemas["DrillStanding"];
export type DrillPage = Schemas["DrillPage"];
export type GoalStanding = Schemas["GoalStanding"];
export type PathStep = Schemas["PathStep"];
export type Gate = Schemas["Gate"];
export type DrillWords = Schemas["DrillWords"];
export type Drill = Schemas["Drill"];
export type Line = Schemas["Line"];
/** What may be left out of an edit is filled in by the server with the model's own defaults. */
type Sparse<T> = T extends (infer Item)[]
  ? Sparse<Item>[]
  : T extends object
    ? { [Key in keyof T]?: Sparse<T[Key]> | undefined }
    : T;
export type OwnTest = Schemas["OwnTest"];
export type Edit = Sparse<Schemas["Edit"]> & { drill: string };
export const asSent = (edits: Edit[]) => edits as Schemas["Edit"][];
export type SyllabusTrial = Schemas["SyllabusTrial"];
export type Breakdown = Schemas["Breakdown"];
export type LinePage = Schemas["LinePage"];
export type LineJudged = Schemas["LineJudged"];
export type LineShown = Schemas["LineShown"];
export type LineSaid = Schemas["LineSaid"];
export type Outline = Schemas["Outline"];
export type PictureOfDrill = Schemas["PictureOfDrill"];
export type FilmJudged = Schemas["FilmJudged"];
export type BayRung = Schemas["BayRung"];
export type Wanted = Schemas["Wanted"];
export type BayLook = Schemas["BayLook"];
export type EasingPage = Schemas["EasingPage"];
export type SyllabusPage = Schemas["SyllabusPage"];
export type IntakePage = Schemas["IntakePage"];
export type SchoolsPage = Schemas["SchoolsPage"];
export type EvidencePlan = Schemas["EvidencePlan"];
export type BenchPage = Schemas["BenchPage"];
export type JudgedRun = Schemas["JudgedRun"];
export type ScoredRun = Schemas["ScoredRun"];
export type Verdict = Schemas["Verdict"];
export type Test = Schemas["Test"];
export type Mode = Schemas["Mode"];
export type Mark = Schemas["Mark"];
export type Sheet = Schemas["Sheet"];
export type Step = Schemas["Step"];
export type TestsPage = Schemas["TestsPage"];
export type TestToPick = Schemas["TestToPick"];
export type Comparison = Schemas["Comparison"];
export type TestDayPage = Schemas["TestDayPage"];
export type TurnSaid = Schemas["TurnSaid"];
export type RememberedLimit = Schemas["RememberedLimit"];
export type LeversPage = Schemas["LeversPage"];
export type Lever = Schemas["Lever"];
export type Knob = Schemas["Knob"];
export type Position = Schemas["Position"];
export type Seen = Schemas["Seen"];
export type LadderPage = Schemas["LadderPage"];
export type FirstRep = Schemas["FirstRep"];
export type FigureShown = Schemas["FigureShown"];
export type FigureNote = Schemas["FigureNote"];
export type MeasuresPage = Schemas["MeasuresPage"];
export type PlanPage = Schemas["PlanPage"];
export type WeekPlan = Schemas["WeekPlan"];
export type DayPlan = Schemas["DayPlan"];
export type Block = Schemas["Block"];
export type DayDose = Schemas["DayDose"];
export type Room = Schemas["Room"];
export type DrawnDrill = Schemas["Drawn"];
export type DayWish = Schemas["DayWish"];
export type Pin = Schemas["Pin"];
export type Drop = Schemas["Drop"];
export type FloorPage = Schemas["FloorPage"];
export type FloorSheet = Schemas["FloorSheet"];
export type FloorEvent = Schemas["FloorEvent"];
export type FloorSlot = Schemas["FloorSlot"];
export type Variant = Schemas["Variant"];
export type SessionPage = Schemas["SessionPage"];
export type OnTheFloor = Schemas["OnTheFloor"];
export type SharedPage = Schemas["SharedPage"];
export type SharedDay = Schemas["SharedDay"];
export type ShareLink = Schemas["ShareLink"];
export type Pain = Schemas["Pain"];
export type KeptKit = Schemas["KeptKit"];
export type KeptTry = Schemas["KeptTry"];
export type ImportPlan = Schemas["ImportPlan"];
export type RunEnd = NonNullable<ScoredRun["run"]["ended_as"]>;
export type Side = NonNullable<KeptTry["side"]>;
export type Fell = NonNullable<KeptTry["fell"]>;
export type Form = NonNullable<KeptTry["form"]>;
export type Reason = Schemas["Reason"];
export type JobPage = Schemas["JobPage"];
export type Outlook = Schemas["Outlook"];
export type ProgressPage = Schemas["ProgressPage"];
export type MeasureStory = Schemas["MeasureStory"];
export type SmallMeasure = Schemas["SmallMeasure"];
export type LoadWeek = Schemas["LoadWeek"];
export type Road = Schemas["Road"];
export type Chance = Schemas["Chance"];
export type SinceWeBegan = Schemas["SinceWeBegan"];
export type WrongTurn = Schemas["WrongTurn"];
export type Standstill = Schemas["Standstill"];
export type Group = Schemas["Group"];
export type GroupRow = Schemas["GroupRow"];
export type ReportPage = Schemas["ReportPage"];
export type MonthReport = Schemas["MonthReport"];
export type Receipt = Schemas["Receipt"];
export type ArchivePlan = Schemas["ArchivePlan"];

export const client = createClient<paths>({ baseUrl: "", fetch: fetchOrKept });

/** The hall this page has open: said with every request, so that one meant for another hall changes nothing. */
let hall = rememberedCoach()?.hall?.id ?? "";
export const setHall = (id: string) => {
  hall = id;
};
export const inHall = () => hall;
export const HALL_HEADER = "Perch-Hall";
/** Which page this is: it is not told of what it did itself. */
export const PAGE = uuidv7();
export const PAGE_HEADER = "Perch-Page";
/** The status that says: this page's hall is not the one signed in to any more. */
export const OTHER_HALL = 412;

client.use({
  onRequest({ request }) {
    if (hall) request.headers.set(HALL_HEADER, hall);
    request.headers.set(PAGE_HEADER, PAGE);
    return request;
  },
});

/** How far this device's clock is ahead of the server's, s; what was heard last. */
let aheadS = 0;
const clockListeners = new Set<() => void>();
export const clockAhead = () => aheadS;
export function onClock(listener: () => void) {
  clockListeners.add(listener);
  return () => {
    clockListeners.delete(listener);
  };
}

client.use({
  onResponse({ response }) {
    const told = Date.parse(response.headers.get("date") ?? "");
    // an answer kept somewhere on the way tells an old hour
    if (Number.isNaN(told) || response.headers.has("age")) return;
    const now = Math.round((Date.now() - told) / 1000);
    if (Math.abs(now - aheadS) < 5) return;
    aheadS = now;
    for (const listener of clockListeners) listener();
  },
});

/** What an answer says went wrong, in a sentence; `status` 0 means that no answer came. */
export class Failure extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly problems: { where: string; what: string }[] = [],
  ) {
    super(message);
  }
}

export const UNREACHED =
  "The server cannot be reached. What you enter is kept in this browser and sent later.";

export function failureOf(status: number, body: unknown): Failure {
  const told = body as { detail?: string; problems?: { where: string; what: string }[] } | undefined;
  return new Failure(status, told?.detail ?? `The server answered ${status}.`, told?.problems);
}

interface Answered<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** Give the data of an answer, or throw its Failure. */
export async function ask<T>(call: Promise<Answered<T>>): Promise<AsRead<T>> {
  let answer: Answered<T>;
  try {
    answer = await call;
  } catch {
    throw new Failure(0, UNREACHED);
  }
  if (!answer.response.ok) throw failureOf(answer.response.status, answer.error);
  return answer.data as AsRead<T>;
}
