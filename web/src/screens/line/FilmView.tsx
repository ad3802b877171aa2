import { Slider } from "radix-ui";
import { type ReactNode, useCallback, useEffect, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { ask, client, type FilmJudged } from "../../api/client";
import {
  closeFilm,
  type FilmFrame,
  FRAMES_A_SECOND,
  filmAsCsv,
  framesOf,
  goTo,
  momentOf,
  openFilm,
} from "../../line/film";
import type { Points, View } from "../../line/points";
import { propose } from "../../line/proposals";
import { type Finder, useFinder } from "../../line/useFinder";
import { useKeys } from "../../live/useKeys";
import { Button } from "../../parts/Button";
import { Problem } from "../../parts/Message";
import { saveAs } from "../../parts/saveAs";
import { seconds, sideOf } from "./holdWords";
import { asDay, type Shown } from "./useJoints";

interface Props {
  file: File;
  trainee: string;
  finder: Finder;
  view: View;
  onFrame: (shown: Shown, points: Points | null) => void;
  onWrong: (words: string) => void;
  children: ReactNode;
}

/** A film: read frame by frame with progress, scrubbed, and the holds that stand in it. */
export function FilmView({ file, trainee, finder, view, onFrame, onWrong, children }: Props) {
  const video = useRef<HTMLVideoElement>(undefined);
  const reader = useFinder("lite", { wanted: view === "side", follows: true });
  const frames = useRef<FilmFrame[]>([]);
  const stop = useRef(false);
  const [of, setOf] = useState(0);
  const [at, setAt] = useState(0);
  const [read, setRead] = useState<number | null>(null);
  const [judged, setJudged] = useState<FilmJudged | null>(null);
  const [problem, setProblem] = useState<unknown>();
  const go = useNavigate();
  const day = new Date(file.lastModified || Date.now());

  const turn = useRef(0);
  const show = useCallback(
    async (frame: number) => {
      const film = video.current;
      if (!film) return;
      const mine = ++turn.current;
      setAt(frame);
      await goTo(film, momentOf(frame));
      const known = frames.current[frame];
      const shown: Shown = {
        picture: film,
        width: film.videoWidth,
        height: film.videoHeight,
        name: `frame at ${seconds(frame / FRAMES_A_SECOND)}`,
        day: asDay(day),
        frame,
      };
      if (mine !== turn.current) return;
      if (known) return onFrame(shown, known.points);
      onFrame(shown, null);
      const found = await finder.find(await createImageBitmap(film));
      if (mine === turn.current) onFrame(shown, found);
    },
    [finder, onFrame, day],
  );
  const first = useRef(show);
  first.current = show;
  useEffect(() => {
    let gone = false;
    openFilm(file).then(
      (film) => {
        if (gone) return closeFilm(film);
        video.current = film;
        setOf(framesOf(film));
        void first.current(0);
      },
      (error: Error) => onWrong(error.message),
    );
    return () => {
      gone = true;
      stop.current = true;
      if (video.current) closeFilm(video.current);
    };
  }, [file, onWrong]);

  const readAll = async () => {
    const film = video.current;
    if (!film) return;
    stop.current = false;
    setProblem(undefined);
    frames.current = [];
    setRead(0);
    // the next frame is looked up while the one before is looked at
    let before: Promise<void> = Promise.resolve();
    for (let n = 0; n < of && !stop.current; n++) {
      await goTo(film, momentOf(n));
      const found = reader.find(await createImageBitmap(film));
      await before;
      before = found.then((points) => {
        frames.current.push({ t_s: n / FRAMES_A_SECOND, points });
        setRead((n + 1) / of);
      });
    }
    await before;
    setRead(null);
    if (stop.current) {
      frames.current = [];
      return;
    }
    try {
      const body = {
        frames: frames.current.map((f) => ({
          t_s: f.t_s,
          points: f.points ?? {},
          lean_deg: null,
          inverted: null,
        })),
        fingers: null,
      };
      const answer = await ask(client.POST("/api/line/film", { body }));
      setJudged(answer);
      const start = answer.holds[0]?.start_s;
      void show(start === undefined ? 0 : Math.round((start + 0.5) * FRAMES_A_SECOND));
    } catch (error) {
      setProblem(error);
    }
  };
  const step = (by: number) => () => void show(Math.max(0, Math.min(of - 1, at + by)));
  useKeys({ ",": step(-1), ".": step(1) });
  const canRead = reader.state.at === "ready" && view === "side";
  const here = judged?.holds.find(
    (h) => h.start_s <= at / FRAMES_A_SECOND && at / FRAMES_A_SECOND <= h.start_s + h.seconds,
  );
  return (
    <div>
      {children}
      {of > 0 && (
        <div className="mt-2">
          <Strip judged={judged} of={of} at={at} />
          <Slider.Root
            className="relative flex h-11 touch-none select-none items-center"
            min={0}
            max={of - 1}
            value={[at]}
            onValueChange={([next]) => next !== undefined && void show(next)}
          >
            <Slider.Track className="relative h-2 grow rounded-full bg-rule">
              <Slider.Range className="absolute h-full rounded-full bg-wood" />
            </Slider.Track>
            <Slider.Thumb
              aria-label="Frame of the film"
              aria-valuetext={seconds(at / FRAMES_A_SECOND)}
              className="block h-8 w-8 rounded-full border-4 border-paper bg-blue"
            />
          </Slider.Root>
          <div className="flex flex-wrap items-center gap-3">
            <Button keycap="," onClick={step(-1)}>
              Back
            </Button>
            <Button keycap="." onClick={step(1)}>
              On
            </Button>
            <p data-testid="moment">
              {seconds(at / FRAMES_A_SECOND)}
              {here && (
                <b>
                  {" "}
                  · {seconds(here.seconds)}, {sideOf(here.end)}
                </b>
              )}
            </p>
            {!judged && read === null && (
              <Button kind="act" disabled={!canRead} onClick={() => void readAll()}>
                Find the holds
              </Button>
            )}
          </div>
          {view === "front" && <p className="text-sm text-soft">Holds are found in films from the side.</p>}
        </div>
      )}
      {read !== null && (
        <div className="mt-3 max-w-xl">
          <div
            role="progressbar"
            aria-label="Reading the film"
            aria-valuenow={Math.round(read * 100)}
            aria-valuemin={0}
            aria-valuemax={100}
            className="h-3 overflow-hidden rounded bg-lightwood"
          >
            <div className="h-full bg-blue" style={{ width: `${read * 100}%` }} />
          </div>
          <p className="mt-1 flex items-center gap-3">
            Reading the film: {Math.round(read * of)} of {of} frames.
            <Button
              onClick={() => {
                stop.current = true;
              }}
            >
              Cancel
            </Button>
          </p>
        </div>
      )}
      {problem !== undefined && <Problem error={problem} />}
      {judged && (
        <Found
          judged={judged}
          onSave={() => saveAs(`${file.name}.csv`, filmAsCsv(frames.current), "text/csv")}
          onGo={(t_s) => void show(Math.round((t_s + 0.5) * FRAMES_A_SECOND))}
          onPropose={() => {
            propose(trainee, { filmed: day.toISOString(), holds: judged.holds });
            go(`/trainees/${trainee}/bench/test/free-tries?from=film`);
          }}
        />
      )}
    </div>
  );
}

/** The film as a strip: when the body was up, and which frame is shown. */
function Strip({ judged, of, at }: { judged: FilmJudged | null; of: number; at: number }) {
  const long = of / FRAMES_A_SECOND;
  return (
    <svg
      viewBox={`0 0 1000 40`}
      preserveAspectRatio="none"
      className="h-8 w-full border border-rule bg-sheet"
      role="img"
      aria-label={judged ? `${judged.holds.length} holds in the film` : "The film"}
    >
      {judged?.holds.map((h) => (
        <rect
          key={h.start_s}
          x={(1000 * h.start_s) / long}
          width={(1000 * h.seconds) / long}
          y={0}
          height={40}
          fill="var(--lightwood)"
          stroke="var(--darkwood)"
          vectorEffect="non-scaling-stroke"
        />
      ))}
      <line
        x1={(1000 * at) / of}
        x2={(1000 * at) / of}
        y1={0}
        y2={40}
        stroke="var(--blue)"
        strokeWidth={3}
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
}

interface FoundProps {
  judged: FilmJudged;
  onGo: (t_s: number) => void;
  onPropose: () => void;
  onSave: () => void;
}

/** The holds of a film, and where they go from here. */
function Found({ judged, onGo, onPropose, onSave }: FoundProps) {
  return (
    <section aria-label="Holds in the film" className="mt-3">
      <p className="text-sm text-soft">{Math.round(100 * judged.quality)} % of the frames could be read.</p>
      {judged.because && <p>{judged.because}.</p>}
      {judged.holds.length === 0 && !judged.because && <p>No hold of a second or more.</p>}
      <ol className="mt-1 flex flex-wrap gap-x-6 gap-y-1">
        {judged.holds.map((h, n) => (
          <li key={h.start_s}>
            <button type="button" className="min-h-6 underline" onClick={() => onGo(h.start_s)}>
              {n + 1}. {seconds(h.seconds)}, {sideOf(h.end)}
            </button>
          </li>
        ))}
      </ol>
      <p className="mt-3 flex flex-wrap gap-3">
        {judged.holds.length > 0 && (
          <Button kind="act" onClick={onPropose}>
            Take them to the Bench
          </Button>
        )}
        <Button kind="quiet" onClick={onSave}>
          Key points as CSV
        </Button>
      </p>
    </section>
  );
}
