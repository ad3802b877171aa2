import { useQuery } from "@tanstack/react-query";

interface Told {
  name: string;
  title: string;
  view: "side" | "front";
  drill: string;
}

/** What was drawn to be tried without a camera: stills and films of made-up bodies. */
export const useStandIns = () =>
  useQuery({
    queryKey: ["stand-ins"],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: async () => {
      const answer = await fetch("/stand-ins/known.json");
      if (!answer.ok) throw new Error("The drawn pictures cannot be reached.");
      const { stills, films } = (await answer.json()) as { stills: Told[]; films: Told[] };
      return { stills, films };
    },
  });

/** One of them as a file, as if it had been picked. */
export async function standIn(name: string, film: boolean): Promise<File> {
  const file = `${name}.${film ? "webm" : "jpg"}`;
  const answer = await fetch(`/stand-ins/${file}`);
  if (!answer.ok) throw new Error("That drawn picture cannot be reached.");
  return new File([await answer.blob()], file, { type: film ? "video/webm" : "image/jpeg" });
}
