import { useCallback, useEffect, useRef, useState } from "react";
import { Link, useParams } from "react-router";
import type { TestDayPage, TurnSaid } from "../../api/client";
import { useTestDay } from "../../api/hooks";
import { type LiveRun, readHold, standingTries, whereNow } from "../../live/run";
import { useKeys } from "../../live/useKeys";
import { useLiveRun } from "../../live/useLiveRun";
import { secondOf, useNow } from "../../live/useNow";
import { buttonLook } from "../../parts/Button";
import { Problem, Waiting } from "../../parts/Message";
import { SetupOf } from "../bench/BenchSetup";
import { Live } from "../bench/Live";
import { Order } from "./PlanDay";

const turnKey = (turn: TurnSaid) => `${turn.test} ${turn.subject}`;

/** A test day as it goes: everybody's clock in sight, and the bench of the one whose turn it is. */
export function TestDay() {
  const { id = "" } = useParams();
  const page = useTestDay(id);
  if (page.isPending) return <Waiting />;
  if (!page.data) return <Problem error={page.error} />;
  return <Going key={id} day={id} page={page.data} />;
}

/** The runs begun in this browser that the server may not have heard of yet. */
const begunKey = (day: string) => `perch.day.${day}`;
const readBegun = (day: string) =>
  JSON.parse(localStorage.getItem(begunKey(day)) ?? "{}") as Record<string, string>;

function Going({ day, page }: { day: string; page: TestDayPage }) {
  const [begun, setBegun] = useState(() => readBegun(day));
  const [who, setWho] = useState(page.trainees[0]?.id ?? "");
  const [over, setOver] = useState<Record<string, boolean>>({});
  const [moment, setMoment] = useState<Record<string, Clock>>({});
  const at = (turn: TurnSaid) => `${turn.trainee} ${turnKey(turn)}`;
  const runOf = (turn: TurnSaid) => turn.run ?? begun[at(turn)] ?? "";
  const done = (turn: TurnSaid) => turn.ended_as !== null || over[runOf(turn)] === true;
  const days = page.minutes.map((minutes) => minutes.day);
  const [number, setNumber] = useState(
    () => page.turns.find((t) => t.ended_as === null)?.day ?? days[0] ?? 1,
  );
  const turns = page.turns.filter((t) => t.day === number);
  const turnOf = (trainee: string) => turns.find((t) => t.trainee === trainee && !done(t));
  const present = turnOf(who);
  const remember = (turn: TurnSaid, run: string) => {
    const all = { ...readBegun(day), [at(turn)]: run };
    localStorage.setItem(begunKey(day), JSON.stringify(all));
    setBegun(all);
  };
  const others = page.trainees.filter((t) => t.id !== who && turnOf(t.id));
  // whoever has rested longest, or has not begun, is next
  const next = [...others].sort((a, b) => (moment[a.id]?.restLeft ?? 0) - (moment[b.id]?.restLeft ?? 0))[0];
  const panel = useRef<HTMLDivElement>(null);
  // the next key belongs to the bench and not to the tab
  const choose = useCallback((trainee: string) => {
    setWho(trainee);
    panel.current?.focus();
  }, []);
  const goNext = useCallback(() => next && choose(next.id), [next, choose]);
  useKeys({ n: goNext });
  const ended = useCallback(
    (run: string) => setOver((before) => (before[run] ? before : { ...before, [run]: true })),
    [],
  );
  const tell = useCallback(
    (trainee: string, clock: Clock) =>
      setMoment((before) =>
        before[trainee]?.words === clock.words && before[trainee]?.restLeft === clock.restLeft
          ? before
          : { ...before, [trainee]: clock },
      ),
    [],
  );
  const elsewhere =
    next && (moment[next.id]?.restLeft ?? 0) <= 0 ? { words: `Next: ${next.name}`, go: goNext } : undefined;
  return (
    <>
      {days.length > 1 && <WhichDay days={days} number={number} onPick={setNumber} />}
      <div className="mb-4 flex flex-wrap gap-2" role="tablist" aria-label="Trainees">
        {page.trainees.map((t) => {
          const turn = turnOf(t.id);
          return (
            <button
              key={t.id}
              type="button"
              role="tab"
              aria-selected={t.id === who}
              className={`min-h-14 grow rounded-md border px-4 py-1 text-left ${t.id === who ? "border-blue bg-tint" : "border-soft"}`}
              onClick={() => choose(t.id)}
            >
              <span className="block font-head text-lg font-bold">{t.name}</span>
              {turn ? (
                <TurnClock turn={turn} run={runOf(turn)} onTell={tell} onEnded={ended} />
              ) : (
                <span className="text-soft">done</span>
              )}
            </button>
          );
        })}
      </div>
      <div ref={panel} tabIndex={-1} role="tabpanel" aria-label="The bench" className="outline-none">
        {present ? (
          <OneTurn
            key={at(present)}
            turn={present}
            run={runOf(present)}
            day={day}
            onStart={(run) => remember(present, run)}
            elsewhere={elsewhere}
          />
        ) : (
          <AllDone
            turns={turns}
            who={who}
            name={page.trainees.find((t) => t.id === who)?.name ?? ""}
            runOf={runOf}
            done={done}
          />
        )}
      </div>
      <details className="mt-6">
        <summary className="min-h-11 cursor-pointer py-2 font-bold">The whole day</summary>
        <Order page={page} />
      </details>
    </>
  );
}

interface WhichProps {
  days: number[];
  number: number;
  onPick: (day: number) => void;
}

/** Which day of a test day that takes several. */
function WhichDay({ days, number, onPick }: WhichProps) {
  return (
    <fieldset className="mb-3 flex gap-2">
      <legend className="sr-only">Which day?</legend>
      {days.map((n) => (
        <button
          key={n}
          type="button"
          aria-pressed={n === number}
          className={`min-h-11 rounded-md border px-4 ${n === number ? "border-blue bg-tint font-bold" : "border-soft"}`}
          onClick={() => onPick(n)}
        >
          Day {n}
        </button>
      ))}
    </fieldset>
  );
}

interface Clock {
  words: string;
  restLeft: number;
}

interface TurnClockProps {
  turn: TurnSaid;
  run: string;
  onTell: (trainee: string, clock: Clock) => void;
  onEnded: (run: string) => void;
}

/** What one trainee is at: the test, and their own clock. */
function TurnClock({ turn, run: id, onTell, onEnded }: TurnClockProps) {
  const { run } = useLiveRun(id);
  const resting = run ? restEnd(run) : 0;
  const hold = run ? readHold(run.id) : null;
  const going = hold !== null && hold.stopped === undefined;
  const now = useNow(
    going || Date.now() < resting,
    secondOf({ since: going ? hold?.since : undefined, until: resting }),
  );
  const restLeft = Math.max(0, Math.ceil((resting - now) / 1000));
  const words = !run
    ? "not begun"
    : going
      ? `under way ${Math.floor((now - hold.since) / 1000)} s`
      : restLeft
        ? `rest ${Math.floor(restLeft / 60)}:${String(restLeft % 60).padStart(2, "0")}`
        : `ready, ${standingTries(run).length} kept`;
  useEffect(() => onTell(turn.trainee, { words, restLeft }), [onTell, turn.trainee, words, restLeft]);
  const endedAs = run?.endedAs;
  useEffect(() => {
    if (endedAs) onEnded(id);
  }, [endedAs, id, onEnded]);
  return (
    <span className="text-soft">
      {turn.title} · <b className="tabular-nums text-ink">{words}</b>
    </span>
  );
}

function restEnd(run: LiveRun): number {
  const last = standingTries(run).at(-1);
  return last && whereNow(run).step ? new Date(last.at).getTime() + run.restS * 1000 : 0;
}

interface OneTurnProps {
  turn: TurnSaid;
  run: string;
  day: string;
  onStart: (run: string) => void;
  elsewhere: { words: string; go: () => void } | undefined;
}

function OneTurn({ turn, run: id, day, onStart, elsewhere }: OneTurnProps) {
  const { run, judged, waiting, error } = useLiveRun(id);
  if (!id)
    return (
      <SetupOf
        trainee={turn.trainee}
        test={turn.test}
        subject={turn.subject}
        testDay={day}
        onStart={onStart}
      />
    );
  if (!run) return error ? <Problem error={error} /> : <Waiting />;
  return <Live key={id} run={run} judged={judged} waiting={waiting} elsewhere={elsewhere} />;
}

interface AllDoneProps {
  turns: TurnSaid[];
  who: string;
  name: string;
  runOf: (turn: TurnSaid) => string;
  done: (turn: TurnSaid) => boolean;
}

function AllDone({ turns, who, name, runOf, done }: AllDoneProps) {
  const mine = turns.filter((t) => t.trainee === who);
  const left = turns.some((t) => !done(t));
  return (
    <section>
      <h1 className="text-3xl">{name} is done for the day.</h1>
      {left && <p className="mb-2 text-soft">Others are not: pick one above.</p>}
      <ul>
        {mine.map((turn) => (
          <li key={turnKey(turn)} className="border-b border-rule">
            <Link
              to={`/trainees/${turn.trainee}/bench/${runOf(turn)}`}
              className="inline-flex min-h-11 items-center underline"
            >
              {turn.title}
            </Link>
          </li>
        ))}
      </ul>
      <Link to="/" className={`${buttonLook("plain", true)} mt-3`}>
        Today
      </Link>
    </section>
  );
}
