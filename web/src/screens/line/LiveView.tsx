import { useCallback, useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { ask, client, type FilmJudged, type LinePage } from "../../api/client";
import type { Points } from "../../line/points";
import { type Hold, propose } from "../../line/proposals";
import { useFinder } from "../../line/useFinder";
import { tenths } from "../../live/run";
import { sound } from "../../live/sounds";
import { useAwake } from "../../live/useAwake";
import { useKeys } from "../../live/useKeys";
import { Button } from "../../parts/Button";
import { Message } from "../../parts/Message";
import { seconds, sideOf } from "./holdWords";

interface Frame {
  t_s: number;
  points?: Points;
  lean_deg: number | null;
  inverted: boolean | null;
}

/** So often the server is asked, ms, and so much of the past it is told, s. */
const ASK_MS = 250;
const PAST_S = 90;
/** A hold that ended so long ago does not go on, s. */
const SETTLED_S = 2;

/** The camera on a box counts the hold by itself. A frame that comes while one is looked at is dropped; the coach's key always wins. */
export function LiveView({ page }: { page: LinePage }) {
  const video = useRef<HTMLVideoElement>(null);
  const finder = useFinder("lite", { wanted: true, follows: true });
  const [on, setOn] = useState(false);
  const [wrong, setWrong] = useState("");
  const [lost, setLost] = useState<FilmJudged["frames"][number]["lost"]>(null);
  const [since, setSince] = useState<number | null>(null);
  const [byHand, setByHand] = useState<number | null>(null);
  const [rate, setRate] = useState(0);
  const go = useNavigate();
  useAwake(on);

  useEffect(() => {
    let stream: MediaStream | undefined;
    let gone = false;
    const begin = async () => {
      try {
        stream = await navigator.mediaDevices.getUserMedia({
          audio: false,
          video: { facingMode: "environment", height: { ideal: 720 } },
        });
        if (gone || !video.current) {
          for (const track of stream.getTracks()) track.stop();
          return;
        }
        video.current.srcObject = stream;
        await video.current.play();
        setOn(true);
      } catch {
        setWrong("The camera cannot be used here. Allow it in the browser, or film and pick the file.");
      }
    };
    void begin();
    return () => {
      gone = true;
      for (const track of stream?.getTracks() ?? []) track.stop();
    };
  }, []);

  const counted = useCounted({
    on,
    video,
    finder,
    onAnswer: useCallback((answer: FilmJudged, started: number) => {
      setLost(answer.frames.at(-1)?.lost ?? null);
      const up = answer.holds.at(-1);
      const goesOn = up?.end === "still-up";
      setSince((before) => {
        if (goesOn && before === null) sound("start");
        if (!goesOn && before !== null) sound("stop");
        return goesOn && up ? started + up.start_s * 1000 : null;
      });
    }, []),
    onRate: setRate,
  });

  const key = () => {
    const began = byHand ?? since;
    sound(began === null ? "start" : "stop");
    if (began === null) return setByHand(Date.now());
    // the coach stops it: the coach's seconds count, and none that the camera saw meanwhile
    counted.own(began);
    setByHand(null);
    setSince(null);
  };
  useKeys({ " ": key });
  const all = counted.holds;
  const last = all.at(-1);
  const running = byHand ?? since;
  return (
    <div>
      {wrong && <Message danger>{wrong}</Message>}
      <div className="grid gap-6 grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_20rem]">
        <div>
          <BigSeconds since={running} last={last} />
          <p role="status" className="min-h-8 text-xl">
            {finder.state.at === "loading"
              ? `The model is on its way: ${Math.round(100 * finder.state.share)} %`
              : finder.state.at === "absent"
                ? "No model here: count with the key."
                : lost === "feet"
                  ? "Step back, I lose your feet."
                  : lost === "body" && running === null
                    ? "Nobody in the picture."
                    : running !== null
                      ? "Up."
                      : on
                        ? "Ready. Kick up when you like."
                        : "Waiting for the camera."}
          </p>
          <div className="mt-3 flex flex-wrap gap-3">
            <Button kind="act" live keycap="Space" className="min-w-60" onClick={key}>
              {running === null ? "Start by hand" : "Stop"}
            </Button>
            {all.length > 0 && (
              <Button
                live
                onClick={() => {
                  propose(page.trainee.id, { filmed: new Date().toISOString(), holds: all });
                  go(`/trainees/${page.trainee.id}/bench/test/free-tries?from=film`);
                }}
              >
                Take them to the Bench
              </Button>
            )}
          </div>
          <ol className="mt-4 flex flex-wrap gap-x-6 gap-y-1 text-lg">
            {all.map((h, n) => (
              <li key={h.start_s}>
                {n + 1}. {seconds(h.seconds)}
                {h.end === "not-seen" ? "" : `, ${sideOf(h.end)}`}
              </li>
            ))}
          </ol>
        </div>
        <div>
          <video
            ref={video}
            muted
            playsInline
            className="w-full border border-rule bg-sheet"
            aria-label="Camera"
          />
          <p className="mt-1 text-sm text-soft" data-testid="rate">
            {rate > 0 ? `${rate.toFixed(0)} frames a second are looked at.` : ""} Nothing is recorded.
          </p>
          <ul className="mt-2 list-disc pl-5 text-sm text-soft">
            {page.advice.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        </div>
      </div>
    </div>
  );
}

/** Seconds that can be read from three metres. */
function BigSeconds({ since, last }: { since: number | null; last: Hold | undefined }) {
  const [now, setNow] = useState(Date.now());
  useEffect(() => {
    if (since === null) return;
    const timer = setInterval(() => setNow(Date.now()), 100);
    return () => clearInterval(timer);
  }, [since]);
  const figure = since === null ? (last?.seconds ?? 0) : tenths(Math.max(0, now - since));
  return (
    <p
      className={`font-head font-bold leading-none tabular-nums ${since === null ? "text-soft" : "text-blue"} text-[clamp(8rem,44vw,22rem)]`}
      data-testid="big-seconds"
    >
      {figure.toFixed(1)}
    </p>
  );
}

interface Counting {
  on: boolean;
  video: React.RefObject<HTMLVideoElement | null>;
  finder: ReturnType<typeof useFinder>;
  onAnswer: (answer: FilmJudged, started: number) => void;
  onRate: (rate: number) => void;
}

/** Looks at the camera as fast as the model goes, and asks what stands in what was seen. */
function useCounted({ on, video, finder, onAnswer, onRate }: Counting) {
  const started = useRef(Date.now());
  const [holds, setHolds] = useState<Hold[]>([]);
  // what is over and not asked about again, the coach's own among it; what was seen before `from` is settled
  const done = useRef<Hold[]>([]);
  const fresh = useRef<Hold[]>([]);
  const from = useRef(0);
  const ready = finder.state.at === "ready";
  const { find } = finder;
  const show = useCallback(() => {
    setHolds([...done.current, ...fresh.current].sort((a, b) => a.start_s - b.start_s));
  }, []);
  useEffect(() => {
    if (!on || !ready) return;
    let over = false;
    const frames: Frame[] = [];
    const seen: number[] = [];
    let fingers: 1 | -1 | null = null;
    let asking = false;
    const watch = async () => {
      while (!over) {
        const film = video.current;
        if (!film || film.readyState < 2) {
          await new Promise((resolve) => setTimeout(resolve, 50));
          continue;
        }
        const t_s = (Date.now() - started.current) / 1000;
        const points = await find(await createImageBitmap(film));
        frames.push({ t_s, points: points ?? {}, lean_deg: null, inverted: null });
        seen.push(Date.now());
        while (seen.length && (seen[0] ?? 0) < Date.now() - 3000) seen.shift();
        onRate(seen.length / 3);
      }
    };
    const tell = async () => {
      if (asking || frames.length === 0) return;
      asking = true;
      const since = from.current;
      const sent = frames.filter((f) => f.t_s >= since && f.t_s > (frames.at(-1)?.t_s ?? 0) - PAST_S);
      try {
        const body = {
          frames: sent.map((f) => ({
            t_s: f.t_s,
            points: f.points ?? null,
            lean_deg: f.lean_deg,
            inverted: f.inverted,
          })),
          fingers,
        };
        const answer = await ask(client.POST("/api/line/film", { body }));
        // the coach's key came in between: what was asked is about what it has settled
        if (over || since !== from.current) return;
        // once it is known where the fingers point, a frame's lean is sent and not its joints again
        fingers = answer.fingers;
        if (fingers !== null)
          for (const [n, frame] of sent.entries()) {
            const told = answer.frames[n];
            if (!told || !frame.points) continue;
            delete frame.points;
            frame.lean_deg = told.lean_deg;
            frame.inverted = told.inverted;
          }
        onAnswer(answer, started.current);
        const settled = (frames.at(-1)?.t_s ?? 0) - SETTLED_S;
        const ended = answer.holds.filter((hold) => hold.end !== "still-up");
        const old = ended.filter((hold) => endOf(hold) <= settled);
        done.current = [...done.current, ...old];
        fresh.current = ended.filter((hold) => endOf(hold) > settled);
        for (const hold of old) from.current = Math.max(from.current, endOf(hold) + 0.5);
        show();
      } catch {
        // without the server nothing is counted by itself; the key still counts
      } finally {
        asking = false;
      }
    };
    void watch();
    const timer = setInterval(() => void tell(), ASK_MS);
    return () => {
      over = true;
      clearInterval(timer);
    };
  }, [on, ready, find, video, onAnswer, onRate, show]);
  return {
    holds,
    /** A hold that the coach has timed, from this moment until now: what the camera counted meanwhile gives way. */
    own: (began: number) => {
      const start_s = (began - started.current) / 1000;
      const hold: Hold = { start_s, seconds: tenths(Date.now() - began), end: "not-seen" };
      const before = [...done.current, ...fresh.current].filter((h) => endOf(h) <= start_s);
      done.current = [...before, hold];
      fresh.current = [];
      from.current = endOf(hold) + 0.5;
      show();
    },
  };
}

const endOf = (hold: Hold) => hold.start_s + hold.seconds;
