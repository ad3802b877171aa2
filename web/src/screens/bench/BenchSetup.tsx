import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { useNavigate, useParams, useSearchParams } from "react-router";
import { ask, type BenchPage, client } from "../../api/client";
import { useBench } from "../../api/hooks";
import { type Proposals, waitIn, withdraw } from "../../line/proposals";
import { startRun } from "../../live/run";
import { useKeys } from "../../live/useKeys";
import { Button } from "../../parts/Button";
import { Field } from "../../parts/Field";
import { Problem, Waiting } from "../../parts/Message";
import { FilmEntry } from "./FilmEntry";
import { PaperEntry } from "./PaperEntry";
import {
  Before,
  BeginAt,
  Cautions,
  CountBelow,
  DialField,
  Notices,
  Rest,
  RoomLines,
  WhichDrill,
} from "./SetupParts";

/** Before the first try: how the room stands, what to mind, how long the rests are. */
export function BenchSetup() {
  const { id = "", test = "" } = useParams();
  const [search, setSearch] = useSearchParams();
  const go = useNavigate();
  return (
    <SetupOf
      trainee={id}
      test={test}
      subject={search.get("subject") ?? ""}
      onSubject={(subject) => setSearch({ subject }, { replace: true })}
      onStart={(run) => go(`/trainees/${id}/bench/${run}`)}
    />
  );
}

interface OfProps {
  trainee: string;
  test: string;
  subject: string;
  /** Left out where the drill is settled. */
  onSubject?: (subject: string) => void;
  onStart: (run: string) => void;
  testDay?: string;
}

/** A test of one trainee and drill made ready, wherever it is begun from. */
export function SetupOf(props: OfProps) {
  const [begin, setBegin] = useState<number | null>(null);
  const bench = useBench(props.trainee, props.test, props.subject, begin);
  if (bench.isPending) return <Waiting />;
  if (!bench.data) return <Problem error={bench.error} />;
  const key = `${props.trainee} ${props.test} ${bench.data.subject?.drill ?? ""}`;
  return <Setup key={key} {...props} page={bench.data} onBegin={setBegin} fresh={!bench.isPlaceholderData} />;
}

interface Props extends OfProps {
  page: BenchPage;
  onBegin: (level: number) => void;
  /** What is shown is what was asked for, and not the page before it. */
  fresh: boolean;
}

function Setup({ trainee: id, page, onSubject, onStart, onBegin, testDay, fresh }: Props) {
  const { test, trainee, exits } = page;
  const queries = useQueryClient();
  const [rest, setRest] = useState(page.rest_s);
  const [room, setRoom] = useState(test.room);
  const [dial, setDial] = useState(page.dial);
  const [clear, setClear] = useState(false);
  const begin = useRef<HTMLButtonElement>(null);
  const watched = test.spotter && exits?.state !== "proven";
  const held = page.held !== "";
  const dialName = page.subject?.dial?.name;
  const unset = dialName !== undefined && dial[dialName] === undefined;
  const ready = clear && !held && !unset && fresh;
  const start = () => {
    if (!ready) return;
    if (exits && test.due_after_days)
      void ask(client.PATCH("/api/me", { body: { rest_s: rest } })).then(
        () => queries.invalidateQueries({ queryKey: ["me"] }),
        // the run itself carries its rest; only the usual rest stays as it was
        () => undefined,
      );
    onStart(startRun(page, { restS: rest, room, dial, testDay }));
  };
  const fromFilm = ({ filmed, holds }: Proposals) => {
    const run = startRun(page, { restS: rest, room, dial, film: filmed });
    waitIn(run, holds);
    withdraw(id);
    onStart(run);
  };
  useKeys({ " ": start, PageDown: start });
  return (
    <>
      <div className="mb-4 flex flex-wrap items-baseline gap-x-5">
        <h1 className="text-[2.125rem] leading-tight">{test.title}</h1>
        <p className="text-soft">
          {trainee.name} · about {page.minutes[rest] ?? page.minutes[page.rest_s]} minutes · {test.about}
        </p>
      </div>
      <Notices page={page} testDay={testDay !== undefined} />
      <div className="grid gap-x-14 gap-y-6 lg:grid-cols-[1fr_24rem]">
        <div>
          <WhichDrill page={page} onSubject={onSubject} />
          <RoomLines page={page} dial={dial} />
          <Cautions page={page} watched={watched} />
          <label className="mb-5 flex min-h-14 max-w-xl cursor-pointer items-center gap-3 rounded-md border border-ink px-4">
            <input
              type="checkbox"
              className="h-6 w-6 shrink-0 accent-blue"
              checked={clear}
              onChange={(event) => {
                setClear(event.target.checked);
                // the next key should begin the test, not take the tick away again
                if (event.target.checked) requestAnimationFrame(() => begin.current?.focus());
              }}
            />
            <span className="font-bold">
              {watched ? "The floor is clear, and a spotter stands by." : "The floor is clear and set up so."}
            </span>
          </label>
          <div className="flex flex-wrap gap-3">
            <Button
              ref={begin}
              kind="act"
              live
              keycap="Space"
              disabled={!ready}
              onClick={start}
              className="min-w-60"
            >
              Begin the test
            </Button>
            {!testDay && (
              <FilmEntry trainee={id} test={test} disabled={held || unset || !fresh} onEnter={fromFilm} />
            )}
            {!testDay && (
              <PaperEntry
                disabled={held || unset || !fresh}
                onEnter={(paper) => onStart(startRun(page, { restS: rest, room, dial, paper }))}
              />
            )}
          </div>
          {unset && <p className="mt-2 text-soft">Write down the {dialName?.replaceAll("-", " ")} first.</p>}
        </div>
        <div>
          <Rest page={page} rest={rest} onRest={setRest} />
          <CountBelow page={page} />
          {page.begin !== null && <BeginAt page={page} onBegin={onBegin} />}
          <DialField page={page} dial={dial} onDial={setDial} />
          <Field label="Room" hint="Kept with the result: where it was done is part of it.">
            {(field) => (
              <input
                id={field}
                className="field"
                maxLength={200}
                value={room}
                onChange={(event) => setRoom(event.target.value)}
              />
            )}
          </Field>
          <Before page={page} id={id} />
        </div>
      </div>
    </>
  );
}
