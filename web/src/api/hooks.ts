/** The queries of all screens. */
import { QueryClient, useQuery } from "@tanstack/react-query";
import { ask, client, Failure, type TodayTrainee } from "./client";

/** What was read from the server, shared by all screens. */
export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      // a refusal will not change by asking again; a missing answer might
      retry: (times, error) =>
        times < 2 && error instanceof Failure && (error.status === 0 || error.status >= 500),
      networkMode: "always",
      staleTime: 2000,
    },
    mutations: { networkMode: "always" },
  },
});

/** What the sign-in page needs. */
export const doorQuery = { queryKey: ["door"], queryFn: () => ask(client.GET("/api/door")) };
export const useDoor = () => useQuery(doorQuery);

/** Every trainee with what there is to decide. While somebody has still to be looked at it is asked for again at once, which goes on with it. */
export const useToday = () =>
  useQuery({
    queryKey: ["today"],
    queryFn: () => {
      const query = waits(queryClient.getQueryData<TodayTrainee[]>(["today"])) ? { again: true } : {};
      return ask(client.GET("/api/today", { params: { query } }));
    },
    refetchInterval: (query) => (waits(query.state.data) ? GO_ON_MS : false),
  });
const GO_ON_MS = 50;
const waits = (rows: TodayTrainee[] | undefined) => rows?.some((row) => !row.brief) ?? false;

/** Every trainee by name. */
export const useTrainees = () =>
  useQuery({ queryKey: ["trainees"], queryFn: () => ask(client.GET("/api/trainees")) });

const at = (id: string) => ({ params: { path: { id } } });

/** A trainee's page: standing, next steps, tests. */
export const useTrainee = (id: string) =>
  useQuery({ queryKey: ["trainee", id], queryFn: () => ask(client.GET("/api/trainees/{id}", at(id))) });

/** All tests of a trainee with their newest results. */
export const useTests = (id: string) =>
  useQuery({ queryKey: ["tests", id], queryFn: () => ask(client.GET("/api/trainees/{id}/tests", at(id))) });

/** A test made ready for a trainee, begun at a level where one is given. */
export const useBench = (id: string, test: string, subject = "", begin: number | null = null) =>
  useQuery({
    queryKey: ["bench", id, test, subject, begin],
    queryFn: () =>
      ask(
        client.GET("/api/trainees/{id}/bench/{test}", {
          params: { path: { id, test }, query: { subject, ...(begin === null ? {} : { begin }) } },
        }),
      ),
    // the page stays while another drill or start is asked for
    placeholderData: (before) =>
      before?.trainee.id === id && before.test.test === test ? before : undefined,
  });

/** Two runs of one test compared. */
export const useComparison = (run: string, other: string) =>
  useQuery({
    queryKey: ["compare", run, other],
    queryFn: () => ask(client.GET("/api/runs/{run}/compare/{other}", { params: { path: { run, other } } })),
  });

/** The coach's kit. */
export const useKit = () => useQuery({ queryKey: ["kit"], queryFn: () => ask(client.GET("/api/kit")) });

/** All test days. */
export const useTestDays = () =>
  useQuery({ queryKey: ["test-day"], queryFn: () => ask(client.GET("/api/test-days")) });

/** One test day as it stands. */
export const useTestDay = (id: string) =>
  useQuery({
    queryKey: ["test-day", id],
    queryFn: () => ask(client.GET("/api/test-days/{id}", at(id))),
  });

/** One drill of a trainee: gate, dose, setting, history. */
export const useDrill = (id: string, drill: string) =>
  useQuery({
    queryKey: ["drill", id, drill],
    queryFn: () => ask(client.GET("/api/trainees/{id}/drills/{drill}", { params: { path: { id, drill } } })),
  });

/** The intake with the first tests. */
export const useIntake = (id: string) =>
  useQuery({
    queryKey: ["intake", id],
    // a form begins from what it is given once, so it never begins from what another page left behind
    refetchOnMount: "always",
    queryFn: () => ask(client.GET("/api/trainees/{id}/intake", at(id))),
  });

/** Where a trainee is taught otherwise. */
export const useSchools = (id: string) =>
  useQuery({
    queryKey: ["schools", id],
    queryFn: () => ask(client.GET("/api/trainees/{id}/schools", at(id))),
  });

/** The coach's syllabus with its checks and gaps. */
export const useSyllabus = () =>
  useQuery({ queryKey: ["syllabus"], queryFn: () => ask(client.GET("/api/syllabus")) });

/** The levers for one trainee's body. */
export const useLevers = (id: string, wanted = true) =>
  useQuery({
    queryKey: ["levers", id],
    enabled: wanted,
    queryFn: () => ask(client.GET("/api/trainees/{id}/levers", at(id))),
  });

/** Where knobs are set, by name, in cm or degrees. */
export type Settings = Record<string, number>;

/**
 * Have every notch of a knob at hand that is about to be turned, so that what it shows keeps up with the thumb. What a position is asked by is where it
 * is found.
 */
export function useAlong(id: string, lever: string, knob: string, settings: Settings) {
  const others = Object.fromEntries(Object.entries(settings).filter(([name]) => name !== knob));
  useQuery({
    queryKey: ["levers", id, "along", lever, knob, others],
    enabled: knob !== "",
    queryFn: async ({ signal }) => {
      const found = await ask(
        client.POST("/api/trainees/{id}/levers/{lever}/along", {
          params: { path: { id, lever } },
          body: { settings: others, knob },
          signal,
        }),
      );
      for (const position of found)
        queryClient.setQueryData(["levers", id, "at", lever, position.settings], position);
      return found.length;
    },
    staleTime: 60_000,
  });
}

/**
 * A lever at these settings; other settings call off what was asked before. What was answered last is at hand until the next answer, and says which
 * settings it is for.
 */
export const usePosition = (id: string, lever: string, settings: Settings, wanted = true) =>
  useQuery({
    queryKey: ["levers", id, "at", lever, settings],
    enabled: wanted && id !== "",
    queryFn: ({ signal }) =>
      ask(
        client.POST("/api/trainees/{id}/levers/{lever}/at", {
          params: { path: { id, lever } },
          body: { settings },
          signal,
        }),
      ),
    placeholderData: (before) => (before?.lever === lever ? before : undefined),
    staleTime: 60_000,
  });

/** The ladder of settings of a drill on a lever. */
export const useLadder = (id: string, lever: string, drill: string, settings: Settings, wanted: boolean) =>
  useQuery({
    queryKey: ["levers", id, "ladder", lever, drill, settings],
    enabled: wanted,
    queryFn: ({ signal }) =>
      ask(
        client.POST("/api/trainees/{id}/levers/{lever}/ladder", {
          params: { path: { id, lever } },
          body: { drill, settings },
          signal,
        }),
      ),
    placeholderData: (before) => (before?.drill === drill ? before : undefined),
    staleTime: 60_000,
  });

/** Whether a lean (degrees) at a speed (degrees a second) can be saved. */
export const useOverUnder = (id: string, lean_deg: number, lean_rate_deg_s: number) =>
  useQuery({
    queryKey: ["levers", id, "over-under", lean_deg, lean_rate_deg_s],
    queryFn: ({ signal }) =>
      ask(
        client.POST("/api/trainees/{id}/levers/over-under", {
          ...at(id),
          body: { lean_deg, lean_rate_deg_s },
          signal,
        }),
      ),
    placeholderData: (before) => before,
    staleTime: 60_000,
  });

/** A trainee's size. */
export const useMeasures = (id: string) =>
  useQuery({
    queryKey: ["measures", id],
    refetchOnMount: "always",
    queryFn: () => ask(client.GET("/api/trainees/{id}/measures", at(id))),
  });

/** A week, kept or as it would be. */
export const usePlan = (id: string, week: string | null) =>
  useQuery({
    queryKey: ["plan", id, week],
    queryFn: () =>
      ask(
        client.GET("/api/trainees/{id}/plan", {
          params: { path: { id }, query: week === null ? {} : { week } },
        }),
      ),
  });

/** What a coach asks of a week: days, pins, drops, kit. */
export type WishSent = {
  week: string;
  days: { day: string; place: string; minutes: number; time: string }[];
  kit: Record<string, string[]>;
  pins: { day: string; drill: string; sets: number | null }[];
  drops: { drill: string; day: string | null }[];
  against: string | null;
};

/** A week planned around what the coach set by hand; what was answered last stays until the next answer. */
export const usePlanLook = (id: string, wish: WishSent | null) =>
  useQuery({
    queryKey: ["plan", id, "look", wish],
    enabled: wish !== null,
    queryFn: ({ signal }) =>
      ask(
        client.POST("/api/trainees/{id}/plan/look", {
          params: { path: { id } },
          body: wish as WishSent,
          signal,
        }),
      ),
    placeholderData: (before) => before,
  });

/** One kept version of a week. */
export const usePlanVersion = (plan: string) =>
  useQuery({
    queryKey: ["plan-version", plan],
    enabled: plan !== "",
    queryFn: () => ask(client.GET("/api/plans/{id}", at(plan))),
  });

/** Everybody's week in a glance. */
export const usePlanWeek = (week: string | null) =>
  useQuery({
    queryKey: ["plan-week", week],
    queryFn: () => ask(client.GET("/api/plan-week", { params: { query: week === null ? {} : { week } } })),
  });

/** The next weeks of a trainee as the model has them. */
export const useOutlook = (id: string) =>
  useQuery({
    queryKey: ["outlook", id],
    queryFn: () => ask(client.GET("/api/trainees/{id}/outlook", at(id))),
  });

/** The secret addresses of a trainee. */
export const useLinks = (id: string) =>
  useQuery({
    queryKey: ["links", id],
    queryFn: () => ask(client.GET("/api/trainees/{id}/links", at(id))),
  });

/** Who is on the floor or planned for today. */
export const useOnTheFloor = (day: string) =>
  useQuery({
    queryKey: ["floor", day],
    queryFn: () => ask(client.GET("/api/floor", { params: { query: { day } } })),
  });

/** A session made ready with its sheet. */
export const useFloorReady = (id: string, day: string, wanted = true) =>
  useQuery({
    queryKey: ["floor", id, day],
    enabled: wanted,
    queryFn: () => ask(client.GET("/api/trainees/{id}/floor", { params: { path: { id }, query: { day } } })),
  });

/** What a secret address shows its trainee. */
export const useShared = (token: string) =>
  useQuery({
    queryKey: ["shared", token],
    queryFn: () => ask(client.GET("/api/shared/{token}", { params: { path: { token } } })),
  });
