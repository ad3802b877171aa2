import { useCallback } from "react";
import { useSearchParams } from "react-router";
import { confirmedSession, readHand, standing, whereSession } from "../../live/session";
import { useKeys } from "../../live/useKeys";
import { useLiveSession } from "../../live/useLiveSession";
import { secondOf, useNow } from "../../live/useNow";
import { KeyCap } from "../../parts/Button";
import { Message, Problem, Waiting } from "../../parts/Message";
import { clock } from "../../parts/words";
import { SoundSwitch } from "../bench/SoundSwitch";
import { FloorStrip } from "../class/FloorStrip";
import { Ready } from "./Ready";
import { Running } from "./Running";
import { Story } from "./Story";
import { type Person, usePeople } from "./usePeople";

/** The sessions of today: several trainees at a time, each with their own clocks, switched by one key. */
export function Floor() {
  const [search, setSearch] = useSearchParams();
  const asked = search.get("who");
  const { people, there, roster, onBegun, bringOn } = usePeople(asked);
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
  if (there.isPending && !people.length) return <Waiting />;
  if (there.error && !people.length) return <Problem error={there.error} />;
  const others = roster.filter((t) => !people.some((p) => p.id === t.id));
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-x-10 gap-y-4 lg:grid-cols-[minmax(0,1fr)_17rem]">
      <div>
        <FloorStrip who={who?.id} session={who?.session ?? ""} />
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
        <PeopleTabs people={people} who={who} onChoose={choose} />
        {others.length > 0 && (
          <label className="mt-3 block text-sm">
            Bring somebody on
            <select
              className="field"
              value=""
              onChange={(event) => {
                bringOn(event.target.value);
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

interface PeopleProps {
  people: Person[];
  who: Person | undefined;
  onChoose: (id: string) => void;
}

/** One tab a trainee, each with their own clock and key. */
function PeopleTabs({ people, who, onChoose }: PeopleProps) {
  return (
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
          onClick={() => onChoose(p.id)}
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
  const moment = useNow(
    going || Date.now() < rested,
    secondOf({ since: going ? hand?.since : undefined, until: rested }),
  );
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
