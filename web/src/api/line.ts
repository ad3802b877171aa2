/** The queries of the line. */
import { useQuery } from "@tanstack/react-query";
import { ask, client, type PictureOfDrill } from "./client";

/** Where a trainee's lines are judged, and those that are kept. */
export const useLinePage = (id: string) =>
  useQuery({
    queryKey: ["line", id],
    queryFn: () => ask(client.GET("/api/trainees/{id}/line", { params: { path: { id } } })),
  });

/** A trainee's kept lines, the newest first. */
export const useKeptLines = (id: string) =>
  useQuery({
    queryKey: ["line", id, "kept"],
    enabled: id !== "",
    queryFn: () => ask(client.GET("/api/trainees/{id}/lines", { params: { path: { id } } })),
  });

/** One picture judged, asked again as its joints move; of the same picture (`of`) the answer before stands until the next is there. */
export const useJudgedPicture = (id: string, of: number, picture: PictureOfDrill | null) =>
  useQuery({
    queryKey: ["line", id, "judge", of, picture],
    enabled: picture !== null,
    gcTime: 0,
    queryFn: () =>
      ask(
        client.POST("/api/trainees/{id}/line/judge", {
          params: { path: { id } },
          body: picture as PictureOfDrill,
        }),
      ),
    placeholderData: (before, query) => (query?.queryKey[3] === of ? before : undefined),
  });
