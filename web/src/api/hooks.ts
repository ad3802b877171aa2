/** The queries of all screens. */
import { QueryClient, useQuery } from "@tanstack/react-query";
import { ask, client, Failure } from "./client";

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

export const useMe = () =>
  useQuery({ queryKey: ["me"], queryFn: () => ask(client.GET("/api/me")), staleTime: 60_000 });

export const useDoor = () => useQuery({ queryKey: ["door"], queryFn: () => ask(client.GET("/api/door")) });

export const useToday = () => useQuery({ queryKey: ["today"], queryFn: () => ask(client.GET("/api/today")) });

const at = (id: string) => ({ params: { path: { id } } });

export const useTrainee = (id: string) =>
  useQuery({ queryKey: ["trainee", id], queryFn: () => ask(client.GET("/api/trainees/{id}", at(id))) });

export const useTests = (id: string) =>
  useQuery({ queryKey: ["tests", id], queryFn: () => ask(client.GET("/api/trainees/{id}/tests", at(id))) });

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

export const useComparison = (run: string, other: string) =>
  useQuery({
    queryKey: ["compare", run, other],
    queryFn: () => ask(client.GET("/api/runs/{run}/compare/{other}", { params: { path: { run, other } } })),
  });

export const useKit = () => useQuery({ queryKey: ["kit"], queryFn: () => ask(client.GET("/api/kit")) });

export const useTestDays = () =>
  useQuery({ queryKey: ["test-day"], queryFn: () => ask(client.GET("/api/test-days")) });

export const useTestDay = (id: string) =>
  useQuery({
    queryKey: ["test-day", id],
    queryFn: () => ask(client.GET("/api/test-days/{id}", at(id))),
  });

export const useDrill = (id: string, drill: string) =>
  useQuery({
    queryKey: ["drill", id, drill],
    queryFn: () => ask(client.GET("/api/trainees/{id}/drills/{drill}", { params: { path: { id, drill } } })),
  });

export const useIntake = (id: string) =>
  useQuery({
    queryKey: ["intake", id],
    queryFn: () => ask(client.GET("/api/trainees/{id}/intake", at(id))),
  });

export const useSchools = (id: string) =>
  useQuery({
    queryKey: ["schools", id],
    queryFn: () => ask(client.GET("/api/trainees/{id}/schools", at(id))),
  });

export const useSyllabus = () =>
  useQuery({ queryKey: ["syllabus"], queryFn: () => ask(client.GET("/api/syllabus")) });
