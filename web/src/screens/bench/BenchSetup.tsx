import { useQueryClient } from "@tanstack/react-query";
import { Slider } from "radix-ui";
import { useRef, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { ask, type BenchPage, type Coach, client } from "../../api/client";
import { useBench } from "../../api/hooks";
import { startRun } from "../../live/run";
import { useKeys } from "../../live/useKeys";
import { Button, buttonLook } from "../../parts/Button";
import { Field } from "../../parts/Field";
import { Message, Problem, Waiting } from "../../parts/Message";
import { day, percent, secs } from "../../parts/words";

/** Before the first try: how the room stands, what to mind, how long the rests are. */
export function BenchSetup({ coach }: { coach: Coach }) {
  const { id = "" } = useParams();
  const bench = useBench(id);
  if (bench.isPending) return <Waiting />;
  if (!bench.data) return <Problem error={bench.error} />;
  return <Setup key={id} id={id} coach={coach} page={bench.data} />;
}

function Setup({ id, coach, page }: { id: string; coach: Coach; page: BenchPage }) {
  const { test, trainee, exits } = page;
  const go = useNavigate();
  const queries = useQueryClient();
  const [rest, setRest] = useState(coach.rest_s);
  const [room, setRoom] = useState("open floor");
  const [clear, setClear] = useState(false);
  const begin = useRef<HTMLButtonElement>(null);
  const proven = exits.state === "proven";
  const held = page.uncleared.length > 0;
  const start = () => {
    if (!clear || held) return;
    if (rest !== coach.rest_s)
      void ask(client.PATCH("/api/me", { body: { rest_s: rest } })).then(
        () => queries.invalidateQueries({ queryKey: ["me"] }),
        // the run itself carries its rest; only the usual rest stays as it was
        () => undefined,
      );
    go(`/trainees/${id}/bench/${startRun(id, rest, room)}`);
  };
  useKeys({ " ": start, PageDown: start });
  return (
    <>
      <div className="mb-5 flex flex-wrap items-baseline gap-x-5">
        <h1 className="text-[2.125rem] leading-tight">{test.title}</h1>
        <p className="text-soft">
          {trainee.name} · about {page.minutes[rest]} minutes
        </p>
      </div>
      {page.open_run && (
        <Message>
          A run is still open.{" "}
          <Link to={`/trainees/${id}/bench/${page.open_run}`} className="font-bold underline">
            Go on with it
          </Link>{" "}
          or start a new one below.
        </Message>
      )}
      {held && (
        <Message danger>
          <b>Nothing upside down yet.</b> {page.uncleared[0]?.advice}{" "}
          <Link to={`/trainees/${id}/intake`} className="underline">
            Confirm in the intake
          </Link>
        </Message>
      )}
      <div className="grid gap-x-14 gap-y-6 lg:grid-cols-[1fr_24rem]">
        <div>
          <h2 className="text-xl">The room</h2>
          <ul className="mb-4 mt-1 list-disc pl-5 text-[1.0625rem]">
            {test.setup.map((line) => (
              <li key={line}>{line}</li>
            ))}
            {trainee.stepping_side && (
              <li>Keep the floor clear to the {trainee.stepping_side}, the stepping side.</li>
            )}
          </ul>
          <div className={`mb-5 border-l-4 bg-sheet px-4 py-3 ${proven ? "border-ink" : "border-brick"}`}>
            <p className={`font-bold ${proven ? "" : "text-brick"}`}>
              {proven
                ? `Exits proven: ${exits.figure}.`
                : "Exits are not proven: no open floor without a spotter."}
            </p>
            {!proven && (
              <p>
                {exits.title}: {exits.shortfall}. {test.instead}
              </p>
            )}
            <ul className="mt-1 list-disc pl-5">
              {test.cautions.map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ul>
          </div>
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
              {proven ? "The floor is clear and set up so." : "The floor is clear, and a spotter stands by."}
            </span>
          </label>
          <Button
            ref={begin}
            kind="act"
            live
            keycap="Space"
            disabled={!clear || held}
            onClick={start}
            className="min-w-60"
          >
            Begin the test
          </Button>
        </div>
        <div>
          <h2 className="mb-2 text-xl" id="rest-words">
            Rest between tries
          </h2>
          <p className="font-head text-5xl font-bold tabular-nums">{rest} s</p>
          <Slider.Root
            className="relative my-3 flex h-11 w-full touch-none items-center"
            min={test.rest_least_s.value}
            max={test.rest_most_s.value}
            step={5}
            value={[rest]}
            onValueChange={([value]) => value && setRest(value)}
          >
            <Slider.Track className="relative h-2 grow rounded-full bg-rule">
              <Slider.Range className="absolute h-full rounded-full bg-wood" />
            </Slider.Track>
            <Slider.Thumb
              aria-labelledby="rest-words"
              className="block h-8 w-8 rounded-md border-2 border-paper bg-blue"
            />
          </Slider.Root>
          <Field label="Room" hint="Kept with the result: a try near a wall is not a free try.">
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
          <LastTime page={page} id={id} />
        </div>
      </div>
    </>
  );
}

function LastTime({ page, id }: { page: BenchPage; id: string }) {
  const last = page.runs[0];
  if (!last) return <p className="text-soft">First time: there is nothing to compare with yet.</p>;
  return (
    <p className="text-soft">
      Last time, {day(last.run.started_at)}: held {last.score.held} of {last.score.n}, mean{" "}
      {secs(last.score.mean_hold_s)}, reached vertical {percent(last.score.reach_share)}.{" "}
      <Link to={`/trainees/${id}/bench/${last.run.id}`} className={`${buttonLook("quiet")} !px-0 underline`}>
        Look
      </Link>
    </p>
  );
}
