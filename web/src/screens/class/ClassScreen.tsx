import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { v7 as uuidv7 } from "uuid";
import { ask, type ClassPage, type ClassPerson, type ClassSlot, client, type Handed } from "../../api/client";
import { useTrainees } from "../../api/hooks";
import { happenInClass, minuteOf, takeBackInClass, useClassNight, whereAt } from "../../live/classNight";
import { useAwake } from "../../live/useAwake";
import { goesOn } from "../../live/useJob";
import { useKeys } from "../../live/useKeys";
import { useNow } from "../../live/useNow";
import { Button } from "../../parts/Button";
import { For } from "../../parts/For";
import { HandedOver } from "../../parts/HandedOver";
import { JobProgress } from "../../parts/JobProgress";
import { Problem, Waiting } from "../../parts/Message";
import { Sheet } from "../../parts/Sheet";
import { dayMonth } from "../../parts/words";
import { After } from "./After";
import { BlockSheet } from "./BlockSheet";
import { hourAt } from "./clockWords";
import { Foot } from "./Foot";
import { PeopleNow } from "./PeopleNow";
import { PersonSheet } from "./PersonSheet";
import { Ribbons } from "./Ribbons";

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

/** Have an evening laid out once more, by everybody's plans as they are now. */
function useLayOut(page: ClassPage) {
  const queries = useQueryClient();
  return () =>
    ask(
      client.POST("/api/classes/{id}/lay-out", { params: { path: { id: page.id } }, body: { id: uuidv7() } }),
    ).then(() => queries.invalidateQueries({ queryKey: ["class", page.id] }));
}

function LayingOut({ page }: { page: ClassPage }) {
  const again = useLayOut(page);
  return (
    <>
      <h1 className="text-[2.125rem] leading-tight">
        {page.room}, {dayMonth(page.day)}, {page.time}
      </h1>
      <JobProgress
        job={page.job ?? null}
        doing="Laying the evening out, step"
        done="steps done"
        onStop={() =>
          void ask(client.POST("/api/jobs/{id}/stop", { params: { path: { id: page.job?.id ?? "" } } }))
        }
      />
      {!goesOn(page.job) && (
        <Button kind="act" least="coach" onClick={() => void again()}>
          Lay it out
        </Button>
      )}
    </>
  );
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
      {open?.kind === "more" && <More page={page} onClose={() => setOpen(null)} say={say} />}
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

type Say = (kind: "begin" | "hold" | "go" | "longer" | "end", words: string, minutes?: number) => void;

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

/** What is done once an evening: a display, a print, files, one more who comes, more coaches, the end. */
function More({ page, onClose, say }: { page: ClassPage; onClose: () => void; say: Say }) {
  const [handed, setHanded] = useState<Handed | null>(null);
  const [error, setError] = useState<unknown>(null);
  const trainees = useTrainees();
  const here = new Set(page.told.people.map((p) => p.trainee));
  const layOut = useLayOut(page);
  const queries = useQueryClient();
  const go = useNavigate();
  const strike = () =>
    ask(client.POST("/api/classes/{id}/strike", { params: { path: { id: page.id } } })).then(() => {
      void queries.invalidateQueries({ queryKey: ["classes"] });
      void go("/class", { state: { struck: page.id } });
    }, setError);
  const display = () =>
    ask(client.POST("/api/classes/{id}/display", { params: { path: { id: page.id } } })).then(
      setHanded,
      setError,
    );
  return (
    <Sheet open side onClose={onClose} title="This evening">
      {error !== null && <Problem error={error} />}
      {handed ? (
        <HandedOver
          handed={handed}
          title="The hall display"
          words="Open this on a screen in the hall or a spare phone. It is shown once; a new one takes its place."
        />
      ) : (
        <Button live kind="act" className="mb-4 w-full" onClick={() => void display()}>
          Hall display
        </Button>
      )}
      {!page.closed_at && (
        <>
          <label className="mb-4 block">
            <span className="mb-1 block font-bold">One more comes now</span>
            <select
              className="field"
              value=""
              onChange={(event) => {
                const name = trainees.data?.find((t) => t.id === event.target.value)?.name ?? "";
                happenInClass(page.id, { kind: "join", trainee: event.target.value }, `class: ${name} comes`);
                onClose();
              }}
            >
              <option value="">who?</option>
              {trainees.data
                ?.filter((t) => !here.has(t.id))
                .map((t) => (
                  <option key={t.id} value={t.id}>
                    {t.name}
                  </option>
                ))}
            </select>
          </label>
          <Coaches page={page} onClose={onClose} />
        </>
      )}
      <ul className="mb-4 grid gap-2">
        <li>
          <Link className="underline" to={`/class/${page.id}/print`}>
            Print: a sheet for the wall, and cards
          </Link>
        </li>
        {(["json", "csv", "ics"] as const).map((kind) => (
          <li key={kind}>
            <a className="underline" href={`/api/classes/${page.id}/evening.${kind}`}>
              As {kind === "ics" ? "a calendar" : kind.toUpperCase()}
            </a>
          </li>
        ))}
        <li>
          <Link className="underline" to="/class">
            Every class night
          </Link>
        </li>
      </ul>
      {!page.begun_at && (
        <For least="coach">
          <div className="mb-4 grid gap-3">
            <Button
              onClick={() => {
                void layOut().catch(setError);
                onClose();
              }}
            >
              Lay it out once more
            </Button>
            <Button kind="quiet" onClick={() => void strike()}>
              Strike this evening out
            </Button>
          </div>
        </For>
      )}
      {page.begun_at && !page.closed_at && (
        <Button
          live
          className="w-full"
          onClick={() => {
            say("end", "the evening ends");
            onClose();
          }}
        >
          End the evening
        </Button>
      )}
      {page.told.figures_why && <p className="mt-4 text-sm text-soft">{page.told.figures_why}</p>}
    </Sheet>
  );
}

function Coaches({ page, onClose }: { page: ClassPage; onClose: () => void }) {
  const [names, setNames] = useState(page.coaches.join(", "));
  return (
    <form
      className="mb-4"
      onSubmit={(event) => {
        event.preventDefault();
        const coaches = names
          .split(",")
          .map((n) => n.trim())
          .filter(Boolean);
        happenInClass(page.id, { kind: "coaches", coaches }, "class: who coaches");
        onClose();
      }}
    >
      <label className="mb-2 block">
        <span className="mb-1 block font-bold">Coaches on duty, with commas</span>
        <input
          className="field"
          value={names}
          maxLength={400}
          onChange={(event) => setNames(event.target.value)}
        />
      </label>
      <Button type="submit">Keep them</Button>
    </form>
  );
}
