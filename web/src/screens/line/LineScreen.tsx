import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { useParams, useSearchParams } from "react-router";
import { v7 as uuidv7 } from "uuid";
import { ask, client, Failure, type LinePage, type PictureOfDrill } from "../../api/client";
import { useJudgedPicture, useLinePage } from "../../api/line";
import { type Box, moved, type Points, placed, type Triple, type View } from "../../line/points";
import { useFinder } from "../../line/useFinder";
import { Button } from "../../parts/Button";
import { Message, Problem, Waiting } from "../../parts/Message";
import { FilmView } from "./FilmView";
import { KeptLines } from "./KeptLines";
import { LinePicture } from "./LinePicture";
import { LiveView } from "./LiveView";
import { type Beside, OneOverTheOther } from "./OneOverTheOther";
import { Said } from "./Said";
import { Sources } from "./Sources";

/** A picture that is judged: a still, or a frame of a film. */
export interface Shown {
  picture: ImageBitmap | HTMLVideoElement;
  width: number;
  height: number;
  name: string;
  /** When it was taken, as far as its file says. */
  day: string;
  frame?: number;
}

/** The line of a handstand, judged from a picture or a film that never leaves this browser. */
export function LineScreen() {
  const { id = "" } = useParams();
  const page = useLinePage(id);
  if (page.isPending) return <Waiting />;
  if (!page.data) return <Problem error={page.error} />;
  return <Judging key={id} page={page.data} />;
}

const dayOf = (file: File) => new Date(file.lastModified || Date.now());
const asDay = (at: Date) =>
  `${at.getFullYear()}-${String(at.getMonth() + 1).padStart(2, "0")}-${String(at.getDate()).padStart(2, "0")}`;

function Judging({ page }: { page: LinePage }) {
  const [search, setSearch] = useSearchParams();
  const wanted = search.get("drill") ?? page.drill;
  const drill = page.drills.find((d) => d.drill === wanted) ?? page.drills[0];
  const view: View = search.get("view") === "front" ? "front" : "side";
  const set = (changes: Record<string, string>) => {
    const next = new URLSearchParams(search);
    for (const [name, value] of Object.entries(changes)) next.set(name, value);
    setSearch(next, { replace: true });
  };
  const [shown, setShownAs] = useState<Shown | null>(null);
  // counts pictures, so that what was said of one is never taken for what is said of the next
  const [of, setOf] = useState(0);
  const setShown = (next: Shown | null) => {
    setShownAs(next);
    setOf((before) => before + 1);
  };
  const [film, setFilm] = useState<File | null>(null);
  const [live, setLive] = useState(false);
  const [points, setPoints] = useState<Points>({});
  const [beside, setBeside] = useState<Beside | null>(null);
  // two kept lines can be laid over one another without a picture
  const [second, setSecond] = useState<Beside | null>(null);
  const [marking, setMarking] = useState(false);
  const [wrong, setWrong] = useState("");
  const [looking, setLooking] = useState(false);
  const finder = useFinder("full", { wanted: of > 0, follows: false });
  const asked = useRef(0);

  const look = async (next: Shown, box: Box | null = null) => {
    const turn = ++asked.current;
    setLooking(true);
    const bitmap = await createImageBitmap(next.picture);
    const found = await finder.find(bitmap, box);
    if (turn !== asked.current) return;
    setLooking(false);
    setPoints(found ?? {});
  };
  const show = (next: Shown) => {
    setShown(next);
    setPoints({});
    setMarking(false);
    void look(next);
  };
  const open = async (file: File) => {
    setWrong("");
    setLive(false);
    try {
      if (file.type.startsWith("video/")) {
        setShown(null);
        setPoints({});
        return setFilm(file);
      }
      if (/\.(json|csv)$/i.test(file.name)) return await openPoints(file);
      const picture = await createImageBitmap(file);
      setFilm(null);
      show({
        picture,
        width: picture.width,
        height: picture.height,
        name: file.name,
        day: asDay(dayOf(file)),
      });
    } catch (error) {
      const said = error instanceof Failure ? error.message : "";
      setWrong(said || "This file is no picture that this browser can read.");
    }
  };
  /** Key points without a picture: they stand on plain paper. */
  const openPoints = async (file: File) => {
    const body = { name: file.name, text: await file.text() };
    const found = (await ask(client.POST("/api/line/read", { body })))[0];
    if (!found) return setWrong("There is no body in this file.");
    const all = Object.values(found.points);
    const width = Math.ceil(found.width ?? Math.max(...all.map((p) => p[0] ?? 0)) * 1.1);
    const height = Math.ceil(found.height ?? Math.max(...all.map((p) => p[1] ?? 0)) * 1.1);
    const paper = new OffscreenCanvas(width, height);
    paper.getContext("2d");
    setFilm(null);
    asked.current++;
    setShown({
      picture: paper.transferToImageBitmap(),
      width,
      height,
      name: file.name,
      day: asDay(dayOf(file)),
    });
    setPoints(
      Object.fromEntries(
        Object.entries(found.points)
          .filter(([, p]) => (p[2] ?? 0) > 0)
          .map(([name, [x = 0, y = 0, v = 0]]) => [name, [x, y, v] as Triple]),
      ),
    );
    set({ view: found.view });
  };
  // the model may be ready only after the picture was opened
  const { state } = finder;

  const begin = (hands: { x: number; y: number }, over: number) => {
    if (!shown) return;
    // no joint stands where it cannot be taken hold of
    const path = Math.min(shown.height * 0.7, hands.y * 0.94);
    setPoints(placed(page.shape, view, hands, path, over));
  };
  const hands = (at: { x: number; y: number }) => {
    setMarking(false);
    if (!shown) return;
    if (state.at !== "ready") return begin(at, 1);
    // a body and a little more above the hands: as large as the picture allows, then smaller until somebody is found
    void lookFor(at);
  };
  const lookFor = async (at: { x: number; y: number }) => {
    if (!shown) return;
    const turn = ++asked.current;
    setLooking(true);
    for (const share of [1, 0.7, 0.5, 0.36]) {
      const h = Math.min(shown.height, shown.height * share);
      const y = Math.max(0, Math.min(shown.height - h, at.y - h * 0.85));
      const w = Math.min(shown.width, h * 0.9);
      const x = Math.max(0, Math.min(shown.width - w, at.x - w / 2));
      const found = await finder.find(await createImageBitmap(shown.picture), { x, y, w, h });
      if (turn !== asked.current) return;
      if (found) {
        setLooking(false);
        setCut({ x, y, w, h });
        return setPoints(found);
      }
    }
    setLooking(false);
    begin(at, 1);
  };
  const [cut, setCut] = useState<Box | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another picture is a whole one again
  useEffect(() => setCut(null), [shown?.picture, shown?.frame]);

  const frame = cut ?? { x: 0, y: 0, w: shown?.width ?? 1, h: shown?.height ?? 1 };
  const picture: PictureOfDrill | null =
    shown && drill && Object.keys(points).length > 0
      ? {
          drill: drill.drill,
          view,
          width: frame.w,
          height: frame.h,
          points: Object.fromEntries(
            Object.entries(points).map(([name, [x, y, v]]) => [name, [x - frame.x, y - frame.y, v]]),
          ),
        }
      : null;
  const judged = useJudgedPicture(page.trainee.id, of, picture);
  const handles = picture ? (judged.data?.handles ?? []) : [];
  const placedHandles = handles.map((h) => {
    // while an answer is on its way the joint stands where the hand has put it
    const own = h.moves.map((name) => points[name]).filter((p) => p !== undefined);
    if (own.length === 0) return h;
    const used = own.some((p) => p[2] >= 2) ? own.filter((p) => p[2] >= 2) : own;
    return {
      ...h,
      x: used.reduce((sum, p) => sum + p[0], 0) / used.length,
      y: used.reduce((sum, p) => sum + p[1], 0) / used.length,
    };
  });
  const none = shown && !looking && Object.keys(points).length === 0 && state.at !== "loading";
  const other: View = view === "side" ? "front" : "side";
  const kept = page.lines.filter((line) => line.drill === drill?.drill);

  const words = shown?.name ?? "this picture";
  const against: Beside | null =
    shown && picture && judged.data
      ? {
          outline: judged.data.outline,
          words,
          held: { picture: shown.picture, width: shown.width, height: shown.height, handles: placedHandles },
        }
      : second;
  const holdBeside = async () => {
    if (!against?.held) return;
    // a film goes on to other frames: what is held is the frame as it is now
    const still = await createImageBitmap(against.held.picture);
    setBeside({ ...against, held: { ...against.held, picture: still } });
  };

  return (
    <>
      <h1 className="sr-only">Line of {page.trainee.name}</h1>
      <div className="mb-3 flex flex-wrap items-end gap-x-4 gap-y-2">
        {(["side", "front"] as const).map((v) => (
          <Button
            key={v}
            kind={v === view ? "act" : "plain"}
            aria-pressed={v === view}
            onClick={() => set({ view: v })}
          >
            From the {v}
          </Button>
        ))}
        <span className="max-w-full">
          <select
            aria-label="Drill"
            className="field max-w-full font-bold"
            value={drill?.drill}
            onChange={(event) => set({ drill: event.target.value })}
          >
            {page.drills.map((d) => (
              <option key={d.drill} value={d.drill}>
                {d.title}
              </option>
            ))}
          </select>
        </span>
        {(shown || film || live) && (
          <Button
            kind="quiet"
            onClick={() => {
              setShown(null);
              setFilm(null);
              setLive(false);
              setPoints({});
            }}
          >
            Another picture
          </Button>
        )}
      </div>
      {wrong && <Message danger>{wrong}</Message>}
      <div className="grid grid-cols-[minmax(0,1fr)] gap-x-10 gap-y-6 lg:grid-cols-[minmax(0,1.25fr)_minmax(0,1fr)_15rem]">
        <div className={live ? "lg:col-span-3" : shown || film || beside ? "" : "lg:col-span-2"}>
          {!shown && !film && !live && (
            <Sources
              onFile={(file) => void open(file)}
              onCamera={() => setLive(true)}
              onWrong={setWrong}
              advice={page.advice}
            />
          )}
          {live && <LiveView page={page} onFile={(file) => void open(file)} />}
          {film && (
            <FilmView
              key={`${film.name} ${film.size}`}
              file={film}
              trainee={page.trainee.id}
              finder={finder}
              view={view}
              onFrame={(next, found) => {
                asked.current++;
                setShown(next);
                setLooking(false);
                setPoints(found ?? {});
              }}
              onWrong={setWrong}
            >
              {shown && (
                <LinePicture
                  {...shown}
                  view={view}
                  handles={placedHandles}
                  onHands={marking ? hands : undefined}
                  onMove={(names, dx, dy) => setPoints((before) => moved(before, names, dx, dy))}
                  label="The frame with its joints"
                />
              )}
            </FilmView>
          )}
          {shown && !film && (
            <LinePicture
              {...shown}
              view={view}
              handles={placedHandles}
              onHands={marking ? hands : undefined}
              onMove={(names, dx, dy) => setPoints((before) => moved(before, names, dx, dy))}
              label="The picture with its joints"
            />
          )}
          {shown && (
            <div className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1 text-[0.9375rem]">
              <Button aria-pressed={marking} onClick={() => setMarking(!marking)}>
                Mark the hands
              </Button>
              {view === "side" && picture && (
                <Button
                  onClick={() =>
                    setPoints((before) => {
                      const wrist = before.left_wrist ?? before.right_wrist;
                      if (!wrist || !judged.data) return before;
                      const over = judged.data.outline.over === 1 ? -1 : 1;
                      const next = { ...before };
                      delete next.right_finger;
                      const path = (shown.height / 10) * 0.4;
                      return { ...next, left_finger: [wrist[0] + over * path, wrist[1], 2] };
                    })
                  }
                >
                  Fingers point {judged.data?.outline.over === 1 ? "right" : "left"}: turn
                </Button>
              )}
              <p role="status" className="text-soft">
                {marking
                  ? "Tap the picture where the hands stand."
                  : state.at === "loading"
                    ? `The model is on its way: ${Math.round(100 * state.share)} %`
                    : looking
                      ? "Looking for joints …"
                      : state.at === "absent"
                        ? "No model here: mark the hands, then drag each joint to its place."
                        : none
                          ? "Nobody was found. Mark the hands, and it is looked there; or drag the joints yourself."
                          : "Drag a joint, or move it with the arrow keys."}
              </p>
            </div>
          )}
        </div>
        {!live && (shown || film || beside) && (
          <div>
            {judged.error && <Problem error={judged.error} />}
            {picture && judged.data ? (
              <>
                <Said said={judged.data.said} page={page} />
                <Keep
                  page={page}
                  picture={picture}
                  day={shown?.day ?? ""}
                  refused={judged.data.said.refused}
                  onBeside={() => void holdBeside()}
                />
              </>
            ) : (
              <p className="text-soft">{drill ? `Meant here: ${drill.target}.` : ""}</p>
            )}
            {beside && against && (
              <OneOverTheOther
                now={against}
                then={beside}
                onDrop={() => {
                  setBeside(null);
                  setSecond(null);
                }}
              />
            )}
            {beside && !against && (
              <p className="mt-4 text-soft">
                Now the other one: open a picture, or lay another kept line over it.
              </p>
            )}
          </div>
        )}
        {!live && (
          <KeptLines
            page={page}
            lines={kept}
            view={view}
            onOther={() => {
              setShown(null);
              setFilm(null);
              setPoints({});
              set({ view: other });
            }}
            onBeside={(line) => (beside && !against ? setSecond(line) : setBeside(line))}
            judged={picture !== null}
          />
        )}
      </div>
      <p className="mt-6 max-w-3xl text-sm text-soft">
        Pictures never leave this browser: only the joints are kept, and what was said. {page.tried_on} Elbows
        are not judged: they are read ten degrees too bent. The venue's rules and the coach's licence come
        first.
      </p>
    </>
  );
}

interface KeepProps {
  page: LinePage;
  picture: PictureOfDrill;
  day: string;
  refused: boolean;
  onBeside: () => void;
}

/** The joints are kept, no picture; once kept they are not kept again until they change. */
function Keep({ page, picture, day, refused, onBeside }: KeepProps) {
  const queries = useQueryClient();
  const [kept, setKept] = useState("");
  const [note, setNote] = useState("");
  const [taken, setTaken] = useState(day);
  const [problem, setProblem] = useState<unknown>();
  const now = JSON.stringify(picture);
  const keep = async () => {
    setProblem(undefined);
    try {
      await ask(
        client.POST("/api/trainees/{id}/lines", {
          params: { path: { id: page.trainee.id } },
          body: {
            ...picture,
            id: uuidv7(),
            at: new Date().toISOString(),
            day: taken || page.on,
            note,
            run: null,
          },
        }),
      );
      setKept(now);
      await queries.invalidateQueries({ queryKey: ["line", page.trainee.id], exact: true });
    } catch (error) {
      setProblem(error);
    }
  };
  return (
    <div className="mt-4 border-t border-rule pt-3">
      {problem !== undefined && <Problem error={problem} />}
      <div className="flex flex-wrap items-end gap-3">
        <label>
          <span className="block text-sm text-soft">Taken on</span>
          <input
            type="date"
            className="field"
            value={taken}
            max={page.on}
            onChange={(event) => setTaken(event.target.value)}
          />
        </label>
        <label className="min-w-40 flex-1">
          <span className="block text-sm text-soft">Note</span>
          <input
            className="field w-full"
            maxLength={500}
            value={note}
            onChange={(e) => setNote(e.target.value)}
          />
        </label>
      </div>
      <div className="mt-3 flex flex-wrap gap-3">
        <Button kind="act" disabled={refused || kept === now} onClick={() => void keep()}>
          {kept === now ? "Kept" : "Keep this line"}
        </Button>
        <Button onClick={onBeside}>Hold another against it</Button>
      </div>
    </div>
  );
}
