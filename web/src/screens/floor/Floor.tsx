import { useCallback, useMemo, useState } from "react";
import { useSearchParams } from "react-router";
import { useOnTheFloor, useToday } from "../../api/hooks";
import { confirmedSession, presentSession, readHand, standing, whereSession } from "../../live/session";
import { useKeys } from "../../live/useKeys";
import { useLiveSession } from "../../live/useLiveSession";
import { useNow } from "../../live/useNow";
import { KeyCap } from "../../parts/Button";
import { Message, Problem, Waiting } from "../../parts/Message";
import { clock, isoDay } from "../../parts/words";
import { SoundSwitch } from "../bench/SoundSwitch";
import { Ready } from "./Ready";
import { Running } from "./Running";
import { Story } from "./Story";

const BEGUN = "perch.floor.begun";
type Begun = Record<string, string>;
const today = () => isoDay(new Date());

/** The sessions begun in this browser today, by trainee. */
function readBegun(): Begun {
  const kept = JSON.parse(localStorage.getItem(BEGUN) ?? "{}") as { day?: string; sessions?: Begun };
  return kept.day === today() ? (kept.sessions ?? {}) : {};
}

interface Person {
  id: string;
  name: string;
  session: string;
  planned: boolean;
}

/** The sessions of today: several trainees at a time, each with their own clocks, switched by one key. */
export function Floor() {
  const [search, setSearch] = useSearchParams();
  const there = useOnTheFloor();
  const roster = useToday();
  const [begun, setBegun] = useState(readBegun);
  const [added, setAdded] = useState<string[]>([]);
  const asked = search.get("who");
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
    for (const id of [asked, ...added])
      if (id && !found.has(id) && names.has(id))
        found.set(id, { id, name: names.get(id) ?? "", session: begun[id] ?? "", planned: false });
    return [...found.values()];
  }, [there.data, roster.data, begun, added, asked]);
  const who = people.find((p) => p.id === asked) ?? people[0];
  const choose = useCallback(
    (id: string) => {
      setSearch({ who: id }, { replace: true });
      // the next key belongs to the floor and not to the tab
      (document.activeElement as HTMLElement | null)?.blur();
    },
    [setSearch],
  );
  useKeys(Object.fromEntries(people.slice(0, 9).map((p, n) => [String(n + 1), () => choose(p.id)])));
  const onBegun = (id: string, session: string) => {
    const all = { ...readBegun(), [id]: session };
    localStorage.setItem(BEGUN, JSON.stringify({ day: today(), sessions: all }));
    setBegun(all);
  };
  if (there.isPending && !people.length) return <Waiting />;
  if (there.error && !people.length) return <Problem error={there.error} />;
  const others = (roster.data ?? []).filter((t) => !people.some((p) => p.id === t.id));
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-x-10 gap-y-4 lg:grid-cols-[minmax(0,1fr)_17rem]">
      <div>
        {who ? (
          who.session ? (
            <OneSession key={who.session} session={who.session} />
          ) : (
            <Ready key={who.id} trainee={who.id} onBegun={(session) => onBegun(who.id, session)} />
          )
        ) : (
          <>
            <h1 className="text-3xl">Nobody is on the floor.</h1>
            <Message>Nobody is planned for today. Bring somebody on, or plan a week.</Message>
          </>
        )}
      </div>
      <aside className="max-lg:order-first">
        <h2 className="mb-1 font-sans text-sm font-normal text-soft max-lg:sr-only">On the floor</h2>
        <div
          role="tablist"
          aria-label="On the floor"
          className="grid grid-cols-[minmax(0,1fr)] gap-2 max-lg:flex max-lg:overflow-x-auto"
        >
          {people.map((p, n) => (
            <button
              key={p.id}
              type="button"
              role="tab"
              aria-selected={p.id === who?.id}
              className={`flex min-h-14 items-center justify-between gap-3 border-l-4 py-1 pl-3 pr-2 text-left max-lg:min-w-48 ${p.id === who?.id ? "border-blue bg-tint" : "border-rule hover:bg-sheet"}`}
              onClick={() => choose(p.id)}
            >
              <span className="min-w-0">
                <span className="block truncate font-head text-lg font-bold leading-tight">{p.name}</span>
                {p.session ? (
                  <TabClock session={p.session} />
                ) : (
                  <span className="text-sm text-soft">{p.planned ? "planned today" : "not begun"}</span>
                )}
              </span>
              {n < 9 && <KeyCap>{n + 1}</KeyCap>}
            </button>
          ))}
        </div>
        {others.length > 0 && (
          <label className="mt-3 block text-sm">
            Bring somebody on
            <select
              className="field"
              value=""
              onChange={(event) => {
                setAdded([...added, event.target.value]);
                choose(event.target.value);
              }}
            >
              <option value="">who?</option>
              {others.map((t) => (
                <option key={t.id} value={t.id}>
                  {t.name}
                </option>
              ))}
            </select>
          </label>
        )}
        <div className="max-lg:hidden">
          <SoundSwitch />
        </div>
      </aside>
    </div>
  );
}

function OneSession({ session: id }: { session: string }) {
  const { session, page, error, waiting } = useLiveSession(id);
  const ended = session?.endedAs ?? page?.session.ended_as;
  if (ended)
    return page?.story ? (
      <Story page={page} />
    ) : (
      <Message>
        The session has ended.{" "}
        {waiting > 0 ? "What it comes to shows as soon as the server has it." : "One moment …"}
      </Message>
    );
  if (!session) return error ? <Problem error={error} /> : <Waiting />;
  return <Running key={id} session={session} />;
}

/** What one trainee is at, with their own clock. */
function TabClock({ session: id }: { session: string }) {
  const { session } = useLiveSession(id);
  const known = session ?? confirmedSession(id);
  const hand = readHand(id);
  const place = known ? whereSession(known) : null;
  const now = place && place.present !== null ? place.slots[place.present] : undefined;
  const variant = now && known ? known.sheet.variants[now.key] : undefined;
  const last = known
    ? standing(known)
        .filter((e) => e.what.kind === "set" && e.what.slot === place?.present)
        .at(-1)
    : undefined;
  const rested = last && variant?.dose ? new Date(last.at).getTime() + variant.dose.rest_s * 1000 : 0;
  const going = hand?.since !== undefined && hand.stopped === undefined;
  const moment = useNow(going || Date.now() < rested);
  if (known?.endedAs) return <span className="text-sm text-soft">done</span>;
  if (!variant || !now) return <span className="text-sm text-soft">through</span>;
  const left = Math.ceil((rested - moment) / 1000);
  const words =
    going && hand?.since
      ? `holding ${clock((moment - hand.since) / 1000)}`
      : left > 0
        ? `rest ${clock(left)}`
        : "ready";
  return (
    <span className="block truncate text-sm text-soft">
      {variant.title}
      {variant.dose ? ` · ${Math.min(now.done + 1, now.sets)} of ${now.sets}` : ""} ·{" "}
      <b className="tabular-nums text-ink">{words}</b>
    </span>
  );
}
