import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useSyncExternalStore } from "react";
import { type Letter, onDelivered, outboxVersion, subscribe, waitingLetters } from "./outbox";

/** Count changes of the outbox, so that a component reads it again. */
export const useOutboxVersion = () => useSyncExternalStore(subscribe, outboxVersion);

/** Ask, and ask again while something was delivered meanwhile: an answer that was asked for before may not know of it yet. */
async function settled<T>(deliveries: { current: number }, asked: () => Promise<T>): Promise<T> {
  for (;;) {
    const before = deliveries.current;
    const answer = await asked();
    if (deliveries.current === before) return answer;
  }
}

/** How one kind of live thing is followed: a run of a test, or a session. */
export interface Followed<Live, Page> {
  /** The first word of its query's key. */
  name: string;
  /** How the path of the letter that starts it ends. */
  startsWith: string;
  ask: (id: string) => Promise<Page>;
  ended: (page: Page) => boolean;
  forget: (id: string) => void;
  confirmed: (id: string) => Live | null;
  confirm: (live: Live) => void;
  merge: (known: Live | null, page: Page) => Live;
  apply: (known: Live | null, letter: Letter) => Live | null;
  present: (id: string, known: Live | null) => Live | null;
  /** Which queries a delivered letter makes old. */
  makesOld: (letter: Letter) => string[];
}

/**
 * Keep what the server has taken of every live thing of a kind, whichever screen stands: a letter may arrive while the
 * screen that follows it is still being drawn, and what it drew must not vanish again.
 */
export function keepDelivered<Live, Page>(kind: Followed<Live, Page>) {
  onDelivered((letter) => {
    if (!letter.run) return;
    const known = kind.apply(kind.confirmed(letter.run), letter);
    if (known) kind.confirm(known);
  });
}

/** Follow one live thing: the server's word where it answers, this browser's memory where it does not, and what still waits on top. */
export function useFollowed<Live, Page>(id: string, kind: Followed<Live, Page>) {
  const queries = useQueryClient();
  const version = useOutboxVersion();
  const deliveries = useRef(0);
  const waiting = waitingLetters().filter((letter) => letter.run === id);
  const startWaits = waiting.some((letter) => letter.path.endsWith(kind.startsWith));
  const query = useQuery({
    queryKey: [kind.name, id],
    queryFn: async () => {
      const page = await settled(deliveries, () => kind.ask(id));
      if (kind.ended(page)) kind.forget(id);
      else kind.confirm(kind.merge(kind.confirmed(id), page));
      return page;
    },
    enabled: !startWaits && id !== "",
    staleTime: 0,
  });
  useEffect(
    () =>
      onDelivered((letter) => {
        if (letter.run !== id) return;
        deliveries.current += 1;
        for (const key of kind.makesOld(letter)) void queries.invalidateQueries({ queryKey: [key] });
      }),
    [id, kind, queries],
  );
  const page = query.data;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the outbox changes behind its version
  const live = useMemo(() => {
    const known = kind.confirmed(id);
    return kind.present(id, page ? kind.merge(known, page) : known);
  }, [id, kind, page, version]);
  return { live, page, error: query.error, waiting: waiting.length };
}
