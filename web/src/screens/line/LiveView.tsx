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
  const [holds, setHolds] = useState<Hold[]>([]);
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
      setHolds(answer.holds.filter((h) => h.end !== "still-up"));
    }, []),
    onRate: setRate,
  });

  const key = () => {
    if (byHand !== null) {
      // the coach stops it: the coach's seconds count
      const figure = tenths(Date.now() - byHand);
      setByHand(null);
      sound("stop");
      counted.own({ start_s: counted.now() - figure, seconds: figure, end: "not-seen" });
      return;
    }
    if (since !== null) {
      const figure = tenths(Date.now() - since);
      sound("stop");
      counted.own({ start_s: counted.now() - figure, seconds: figure, end: "not-seen" });
      setSince(null);
      return;
    }
    setByHand(Date.now());
    sound("start");
  };
  useKeys({ " ": key });
  const all = [...holds, ...counted.owned].sort((a, b) => a.start_s - b.start_s);
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
  const started = useRef(0);
  const [owned, setOwned] = useState<Hold[]>([]);
  // what the coach has timed is not counted again from the film
  const from = useRef(0);
  const ready = finder.state.at === "ready";
  const { find } = finder;
  useEffect(() => {
    if (!on || !ready) return;
    let over = false;
    started.current = Date.now();
    const frames: Frame[] = [];
    const seen: number[] = [];
    let fingers: 1 | -1 | null = null;
    let asking = false;
    const done: Hold[] = [];
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
      const sent = frames.filter((f) => f.t_s >= from.current && f.t_s > (frames.at(-1)?.t_s ?? 0) - PAST_S);
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
        if (over) return;
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
        const settled = (frames.at(-1)?.t_s ?? 0) - SETTLED_S;
        onAnswer({ ...answer, holds: [...done, ...answer.holds] }, started.current);
        for (const hold of answer.holds) {
          const end = hold.start_s + hold.seconds;
          if (hold.end === "still-up" || end > settled) continue;
          // what is over is kept, and not asked about again
          done.push(hold);
          from.current = Math.max(from.current, end + 0.5);
        }
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
  }, [on, ready, find, video, onAnswer, onRate]);
  return {
    owned,
    now: () => (Date.now() - started.current) / 1000,
    own: (hold: Hold) => {
      from.current = (Date.now() - started.current) / 1000 + 0.5;
      setOwned((before) => [...before, hold]);
    },
  };
}
