/** The queries of the long view. */
import { useQuery } from "@tanstack/react-query";
import { ask, client, type Group } from "./client";
import { queryClient } from "./hooks";

/** The long view of a trainee, on the way to one of their goals. */
export const useProgress = (id: string, goal: string) =>
  useQuery({
    queryKey: ["progress", id, goal],
    queryFn: () =>
      ask(client.GET("/api/trainees/{id}/progress", { params: { path: { id }, query: { goal } } })),
    placeholderData: (before) => (before?.trainee.id === id ? before : undefined),
  });

/** Which part of a measure: the way it was measured, as it stood on a day, or from a day on. */
export interface Part {
  way?: string;
  on?: string;
  since?: string;
}

/** One measure of one drill. */
export const useMeasure = (id: string, drill: string, part: Part = {}, wanted = true) =>
  useQuery({
    queryKey: ["progress", id, "measure", drill, part],
    enabled: wanted && drill !== "",
    queryFn: () =>
      ask(
        client.GET("/api/trainees/{id}/progress/measures/{drill}", {
          params: { path: { id, drill }, query: part },
        }),
      ),
  });

/** Every test of single tries. */
export const useStrips = (id: string) =>
  useQuery({
    queryKey: ["progress", id, "strips"],
    queryFn: () => ask(client.GET("/api/trainees/{id}/progress/strips", { params: { path: { id } } })),
  });

const GO_ON_MS = 50;
const waits = (group: Group | undefined) => group?.rows.some((row) => !row.course) ?? false;

/** Everybody, what wants a word first. While somebody has still to be looked at it is asked for again, which goes on with it. */
export const useGroup = () =>
  useQuery({
    queryKey: ["group"],
    queryFn: () => {
      const query = waits(queryClient.getQueryData<Group>(["group"])) ? { again: true } : {};
      return ask(client.GET("/api/group", { params: { query } }));
    },
    refetchInterval: (query) => (waits(query.state.data) ? GO_ON_MS : false),
  });

/** A trainee's report of a month. */
export const useReport = (id: string, month: string) =>
  useQuery({
    queryKey: ["report", id, month],
    // a form begins from what it is given once
    refetchOnMount: "always",
    queryFn: () => ask(client.GET("/api/trainees/{id}/reports/{month}", { params: { path: { id, month } } })),
  });

/** The reports of a month that are kept. */
export const useReports = (month: string) =>
  useQuery({
    queryKey: ["reports", month],
    queryFn: () => ask(client.GET("/api/reports/{month}", { params: { path: { month } } })),
  });
