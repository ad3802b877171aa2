import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import type { ClassPage, ClassPerson, ClassSlot } from "../../api/client";
import { happenInClass, minuteOf, takeBackInClass, useClassNight, whereAt } from "../../live/classNight";
import { useAwake } from "../../live/useAwake";
import { goesOn } from "../../live/useJob";
import { useKeys } from "../../live/useKeys";
import { useNow } from "../../live/useNow";
import { Button } from "../../parts/Button";
import { Problem, Waiting } from "../../parts/Message";
import { After } from "./After";
import { BlockSheet } from "./BlockSheet";
import { hourAt } from "./clockWords";
import { Foot } from "./Foot";
import { LayingOut } from "./LayingOut";
import { PeopleNow } from "./PeopleNow";
import { PersonSheet } from "./PersonSheet";
import { Ribbons } from "./Ribbons";
import { ThisEvening } from "./ThisEvening";

type Open =
  | { kind: "block"; person: string; block: number }
  | { kind: "person"; person: string; hurts?: boolean }
  | { kind: "more" }
  | null;

/** A class night: laid out, followed by its clock, looked back at. */
export function ClassScreen() {
  const { id = "" } = useParams();
  const { page, error, pending } = useClassNight(id);
  if (!page) return pending ? <Waiting /> : <Problem error={error} />;
  if (!page.laid_out) return <LayingOut page={page} />;
  return <Evening page={page} />;
}

function Evening({ page }: { page: ClassPage }) {
  const go = useNavigate();
  const [open, setOpen] = useState<Open>(null);
  const going = page.begun_at !== null && !page.closed_at;
  const moment = useNow(going && !page.held_since, (at) => Math.floor((minuteOf(page, at) ?? 0) * 60));
  const minute = minuteOf(page, moment);
  useAwake(going);
  const say = (kind: "begin" | "hold" | "go" | "longer" | "end", words: string, minutes?: number) =>
    happenInClass(page.id, { kind, ...(minutes ? { minutes } : {}) }, `class: ${words}`);
  const last = page.events.find((e) => !e.struck);
  const undo = last && !page.closed_at ? () => takeBackInClass(page.id, last.id) : undefined;
  const eyes = eyesOf(page, minute);
  const onEyes = going && eyes ? () => void go(`/floor?who=${eyes}`) : undefined;
  const shown =
    open && open.kind !== "more" ? page.told.people.find((p) => p.trainee === open.person) : undefined;
  const slot = open?.kind === "block" ? shown?.slots.find((s) => s.block === open.block) : undefined;
  const hold = () =>
    !going ? undefined : page.held_since ? say("go", "the clock goes on") : say("hold", "the clock is held");
  useKeys({
    h: going ? hold : undefined,
    "+": page.closed_at ? undefined : () => say("longer", "longer", page.longer_min),
    e: onEyes,
    z: undo,
    ...Object.fromEntries(
      page.told.people
        .slice(0, 9)
        .map((p, n) => [String(n + 1), () => setOpen({ kind: "person", person: p.trainee })]),
    ),
  });
  const drag = (person: ClassPerson, of: ClassSlot, toMin: number) =>
    happenInClass(
      page.id,
      {
        kind: "put",
        trainee: person.trainee,
        block: of.block,
        minutes: toMin,
        ...(of.station in page.stations ? { station: of.station, number: of.number } : {}),
      },
      `class: ${person.short}, ${of.title} at ${hourAt(page.time, toMin)}`,
    );
  return (
    <>
      <Head
        page={page}
        minute={minute}
        onHold={hold}
        onUndo={undo}
        say={say}
        onMore={() => setOpen({ kind: "more" })}
      />
      {goesOn(page.job) && (
        <p role="status" className="text-soft">
          It is being laid out once more …
        </p>
      )}
      {page.closed_at ? (
        <After page={page} />
      ) : (
        <>
          {last && last.changed.length > 0 && <Changed words={last.changed} />}
          <Ribbons
            page={page}
            minute={minute}
            chosen={shown?.trainee ?? null}
            onBlock={(person, s) => setOpen({ kind: "block", person: person.trainee, block: s.block })}
            onPerson={(person) => setOpen({ kind: "person", person: person.trainee })}
            onDrag={drag}
          />
          <div className="flex flex-col">
            <div className="max-sm:order-last">
              <PeopleNow
                page={page}
                minute={minute ?? 0}
                onPerson={(person) => setOpen({ kind: "person", person: person.trainee })}
              />
            </div>
            <Foot page={page} minute={minute} onEyes={onEyes} />
          </div>
          <p className="mt-4 text-sm text-soft">{page.told.caution}</p>
        </>
      )}
      {shown && open?.kind === "person" && (
        <PersonKeys
          page={page}
          person={shown}
          minute={minute}
          onHurts={() => setOpen({ kind: "person", person: shown.trainee, hurts: true })}
          onClose={() => setOpen(null)}
        >
          <PersonSheet
            key={open.hurts ? "hurts" : "person"}
            page={page}
            person={shown}
            minute={minute}
            hurts={open.hurts ?? false}
            onClose={() => setOpen(null)}
          />
        </PersonKeys>
      )}
      {shown && slot && (
        <BlockSheet page={page} person={shown} slot={slot} minute={minute} onClose={() => setOpen(null)} />
      )}
      {open?.kind === "more" && <ThisEvening page={page} onClose={() => setOpen(null)} say={say} />}
    </>
  );
}

/** Who the hands are for now, or next. */
function eyesOf(page: ClassPage, minute: number | null) {
  if (minute === null) return undefined;
  const { hands } = page.told;
  return (
    hands.find((h) => h.start_min <= minute && minute < h.end_min) ?? hands.find((h) => h.start_min > minute)
  )?.trainees[0];
}

/** With somebody's sheet open their keys work in it. */
function PersonKeys({
  page,
  person,
  minute,
  onHurts,
  onClose,
  children,
}: {
  page: ClassPage;
  person: ClassPerson;
  minute: number | null;
  onHurts: () => void;
  onClose: () => void;
  children: React.ReactNode;
}) {
  const say = (kind: "ready" | "over", words: string, minutes?: number) =>
    happenInClass(
      page.id,
      { kind, trainee: person.trainee, ...(minutes ? { minutes } : {}) },
      `class: ${person.short} ${words}`,
    );
  const act = (event: React.KeyboardEvent) => {
    if (minute === null || page.closed_at || event.repeat) return;
    if (event.key === "p") return onHurts();
    if (!whereAt(person.slots, minute).now) return;
    if (event.key === "r") say("ready", "is ready early");
    else if (event.key === "o") say("over", "takes longer", page.over_min);
    else return;
    onClose();
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the sheet's own controls do the same by touch
    <div onKeyDown={act}>{children}</div>
  );
}

/** Say what happens to the evening's clock. */
export type Say = (kind: "begin" | "hold" | "go" | "longer" | "end", words: string, minutes?: number) => void;

interface HeadProps {
  page: ClassPage;
  minute: number | null;
  onHold: () => void;
  onUndo: (() => void) | undefined;
  say: Say;
  onMore: () => void;
}

function Head({ page, minute, onHold, onUndo, say, onMore }: HeadProps) {
  const held = page.held_since !== null && !page.closed_at;
  return (
    <div className="mb-2 flex flex-wrap items-center gap-x-5 gap-y-2">
      {minute !== null && (
        <p className="font-head text-4xl leading-none font-bold tabular-nums" role="timer">
          {hourAt(page.time, minute)}
          {held && <span className="ml-2 font-sans text-base text-brick">held</span>}
        </p>
      )}
      <div className="min-w-0">
        <h1 className="text-2xl leading-tight">{page.told.headline}</h1>
        <p className="text-soft" title={page.told.figures_why}>
          {page.told.figures}
        </p>
      </div>
      <div className="ml-auto flex flex-wrap items-center gap-2 max-sm:ml-0">
        {page.closed_at ? null : page.begun_at ? (
          <Button live keycap="H" kind={held ? "act" : "plain"} onClick={onHold}>
            {held ? "Go on" : "Hold the clock"}
          </Button>
        ) : (
          <Button live kind="act" onClick={() => say("begin", "the evening begins")}>
            Begin the evening
          </Button>
        )}
        {!page.closed_at && (
          <Button live keycap="+" onClick={() => say("longer", "longer", page.longer_min)}>
            {page.longer_min} min more
          </Button>
        )}
        {onUndo && (
          <Button live keycap="Z" kind="quiet" onClick={onUndo}>
            Take back
          </Button>
        )}
        <Button live onClick={onMore}>
          More
        </Button>
      </div>
    </div>
  );
}

/** How the rest followed, in words. */
function Changed({ words }: { words: readonly string[] }) {
  const [all, setAll] = useState(false);
  const shown = all ? words : words.slice(0, 3);
  return (
    <div role="status" className="mb-2 border-l-4 border-wood bg-sheet px-3 py-1">
      <b>So the rest follows.</b> {shown.join(" ")}{" "}
      {words.length > shown.length && (
        <button type="button" className="underline" onClick={() => setAll(true)}>
          and {words.length - shown.length} more
        </button>
      )}
    </div>
  );
}
