import { useMemo, useState } from "react";
import { useClasses, useClassPage } from "../../api/classNight";
import { useOnTheFloor, useToday } from "../../api/hooks";
import { useHallDay } from "../../api/me";
import { presentSession } from "../../live/session";
import { isoDay } from "../../parts/words";

const BEGUN = "perch.floor.begun";
/** Sessions begun, by trainee. */
type Begun = Record<string, string>;
const today = () => isoDay(new Date());

/** The sessions begun in this browser today, by trainee. */
function readBegun(): Begun {
  const kept = JSON.parse(localStorage.getItem(BEGUN) ?? "{}") as { day?: string; sessions?: Begun };
  return kept.day === today() ? (kept.sessions ?? {}) : {};
}

/** Somebody on the floor or planned for today; `session` is empty until it is begun. */
export interface Person {
  id: string;
  name: string;
  session: string;
  planned: boolean;
}

const NOBODY: string[] = [];

/** Who is in the class night that is under way. */
function useInClass() {
  const night = useClasses().data?.find((c) => c.state === "under way");
  const page = useClassPage(night?.id ?? "").data;
  return useMemo(() => page?.told.people.map((p) => p.trainee) ?? NOBODY, [page]);
}

/** Who is on the floor: by the server, by what was begun in this browser, and by whom the coach brought on. */
export function usePeople(asked: string | null) {
  const there = useOnTheFloor(useHallDay());
  const roster = useToday();
  const [begun, setBegun] = useState(readBegun);
  const [added, setAdded] = useState<string[]>([]);
  const inClass = useInClass();
  const people = useMemo(() => {
    const names = new Map((roster.data ?? []).map((t) => [t.id, t.name]));
    const found = new Map<string, Person>();
    for (const x of there.data ?? [])
      found.set(x.trainee.id, {
        id: x.trainee.id,
        name: x.trainee.name,
        session: x.session ?? begun[x.trainee.id] ?? "",
        planned: x.planned,
      });
    // whoever was begun in this browser is on the floor, whether the server has heard of it or not
    for (const [id, session] of Object.entries(begun))
      if (!found.has(id)) {
        const name = names.get(id) ?? presentSession(session)?.name ?? "";
        if (name) found.set(id, { id, name, session, planned: false });
      }
    for (const id of [asked, ...added, ...inClass])
      if (id && !found.has(id) && names.has(id))
        found.set(id, { id, name: names.get(id) ?? "", session: begun[id] ?? "", planned: false });
    return [...found.values()];
  }, [there.data, roster.data, begun, added, asked, inClass]);
  const onBegun = (id: string, session: string) => {
    const all = { ...readBegun(), [id]: session };
    localStorage.setItem(BEGUN, JSON.stringify({ day: today(), sessions: all }));
    setBegun(all);
  };
  const bringOn = (id: string) => setAdded([...added, id]);
  return { people, there, roster: roster.data ?? [], onBegun, bringOn };
}
