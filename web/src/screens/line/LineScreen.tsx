import { type ReactNode, useState } from "react";
import { useParams, useSearchParams } from "react-router";
import type { LinePage, PictureOfDrill } from "../../api/client";
import { useJudgedPicture, useLinePage } from "../../api/line";
import type { Handle, View } from "../../line/points";
import { Button } from "../../parts/Button";
import { For } from "../../parts/For";
import { Message, Problem, Waiting } from "../../parts/Message";
import { FilmView } from "./FilmView";
import { KeepLine } from "./KeepLine";
import { KeptLines } from "./KeptLines";
import { LinePicture } from "./LinePicture";
import { LiveView } from "./LiveView";
import { type Beside, OneOverTheOther } from "./OneOverTheOther";
import { Said } from "./Said";
import { Sources } from "./Sources";
import { type Joints, useJoints } from "./useJoints";

/** The line of a handstand, judged from a picture or a film that never leaves this browser. */
export function LineScreen() {
  const { id = "" } = useParams();
  const page = useLinePage(id);
  if (page.isPending) return <Waiting />;
  if (!page.data) return <Problem error={page.error} />;
  return <Judging key={id} page={page.data} />;
}

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
  const joints = useJoints({ page, view, onView: (next) => set({ view: next }) });
  const { shown, film, wrong } = joints;
  const [live, setLive] = useState(false);
  const [beside, setBeside] = useState<Beside | null>(null);
  // two kept lines can be laid over one another without a picture
  const [second, setSecond] = useState<Beside | null>(null);
  const open = (file: File) => {
    setLive(false);
    void joints.open(file);
  };
  const clear = () => {
    setLive(false);
    joints.clear();
  };

  const picture = drill ? pictureOf(joints, drill.drill, view) : null;
  const judged = useJudgedPicture(page.trainee.id, joints.of, picture);
  const said = picture ? judged.data : undefined;
  const handles = (said?.handles ?? []).map((h) => whereItIs(h, joints));
  const against: Beside | null =
    shown && said
      ? {
          outline: said.outline,
          words: shown.name,
          held: { picture: shown.picture, width: shown.width, height: shown.height, handles },
        }
      : second;
  const holdBeside = async () => {
    if (!against?.held) return;
    // a film goes on to other frames: what is held is the frame as it is now
    const still = await createImageBitmap(against.held.picture);
    setBeside({ ...against, held: { ...against.held, picture: still } });
  };
  const drawn = shown && (
    <LinePicture
      {...shown}
      view={view}
      handles={handles}
      onHands={joints.marking ? (at) => void joints.hands(at) : undefined}
      onMove={joints.move}
      label="The picture with its joints"
    />
  );
  const empty = !shown && !film && !live;

  return (
    <>
      <h1 className="sr-only">Line of {page.trainee.name}</h1>
      <Asked page={page} view={view} drill={drill?.drill ?? ""} onSet={set}>
        {!empty && (
          <Button kind="quiet" onClick={clear}>
            Another picture
          </Button>
        )}
      </Asked>
      {wrong && <Message danger>{wrong}</Message>}
      <div className="grid grid-cols-[minmax(0,1fr)] gap-x-10 gap-y-6 lg:grid-cols-[minmax(0,1.25fr)_minmax(0,1fr)_15rem]">
        <div className={live ? "lg:col-span-3" : empty && !beside ? "lg:col-span-2" : ""}>
          {empty && (
            <Sources
              onFile={open}
              onCamera={() => setLive(true)}
              onWrong={joints.setWrong}
              advice={page.advice}
            />
          )}
          {live && <LiveView page={page} />}
          {film ? (
            <FilmView
              key={`${film.name} ${film.size}`}
              file={film}
              trainee={page.trainee.id}
              finder={joints.finder}
              view={view}
              onFrame={joints.showFrame}
              onWrong={joints.setWrong}
            >
              {drawn}
            </FilmView>
          ) : (
            drawn
          )}
          {shown && (
            <Tools joints={joints} turns={view === "side" && said !== undefined} over={said?.outline.over} />
          )}
        </div>
        {!live && (!empty || beside) && (
          <div>
            {judged.error && <Problem error={judged.error} />}
            {picture && said ? (
              <>
                <Said said={said.said} page={page} />
                <For least="coach">
                  <KeepLine
                    page={page}
                    picture={picture}
                    day={shown?.day ?? ""}
                    refused={said.said.refused}
                    onBeside={() => void holdBeside()}
                  />
                </For>
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
            lines={page.lines.filter((line) => line.drill === drill?.drill)}
            view={view}
            onOther={() => {
              clear();
              set({ view: view === "side" ? "front" : "side" });
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

/** The joints as they are asked about; null while there are none. */
function pictureOf({ shown, points, frame }: Joints, drill: string, view: View): PictureOfDrill | null {
  if (!shown || Object.keys(points).length === 0) return null;
  const inFrame = Object.entries(points).map(([name, [x, y, v]]) => [name, [x - frame.x, y - frame.y, v]]);
  return { drill, view, width: frame.w, height: frame.h, points: Object.fromEntries(inFrame) };
}

/** A joint in the whole picture: where the core says it is; where a hand has put it while an answer is on its way. */
function whereItIs(h: Handle, { points, frame }: Joints): Handle {
  const own = h.moves.map((name) => points[name]).filter((p) => p !== undefined);
  // what a hand moves is sure on both sides from then on
  if (own.length === 0 || own.some((p) => p[2] < 2)) return { ...h, x: h.x + frame.x, y: h.y + frame.y };
  return {
    ...h,
    x: own.reduce((sum, p) => sum + p[0], 0) / own.length,
    y: own.reduce((sum, p) => sum + p[1], 0) / own.length,
  };
}

interface AskedProps {
  page: LinePage;
  view: View;
  drill: string;
  onSet: (changes: Record<string, string>) => void;
  children: ReactNode;
}

/** From where, and of which drill. */
function Asked({ page, view, drill, onSet, children }: AskedProps) {
  return (
    <div className="mb-3 flex flex-wrap items-end gap-x-4 gap-y-2">
      {(["side", "front"] as const).map((v) => (
        <Button
          key={v}
          kind={v === view ? "act" : "plain"}
          aria-pressed={v === view}
          onClick={() => onSet({ view: v })}
        >
          From the {v}
        </Button>
      ))}
      <span className="max-w-full">
        <select
          aria-label="Drill"
          className="field max-w-full font-bold"
          value={drill}
          onChange={(event) => onSet({ drill: event.target.value })}
        >
          {page.drills.map((d) => (
            <option key={d.drill} value={d.drill}>
              {d.title}
            </option>
          ))}
        </select>
      </span>
      {children}
    </div>
  );
}

interface ToolsProps {
  joints: Joints;
  /** Whether it can be said to which side the fingers point. */
  turns: boolean;
  over: number | null | undefined;
}

/** What a hand can do with a picture, and how the looking goes. */
function Tools({ joints, turns, over }: ToolsProps) {
  return (
    <div className="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1 text-[0.9375rem]">
      <Button aria-pressed={joints.marking} onClick={() => joints.setMarking(!joints.marking)}>
        Mark the hands
      </Button>
      {turns && (
        <Button onClick={() => joints.point(over === 1 ? -1 : 1)}>
          Fingers point {over === 1 ? "right" : "left"}: turn
        </Button>
      )}
      <p role="status" className="text-soft">
        {howItGoes(joints)}
      </p>
    </div>
  );
}

function howItGoes({ marking, finder: { state }, looking, points }: Joints): string {
  if (marking) return "Tap the picture where the hands stand.";
  if (state.at === "loading") return `The model is on its way: ${Math.round(100 * state.share)} %`;
  if (looking) return "Looking for joints …";
  if (state.at === "absent") return "No model here: mark the hands, then drag each joint to its place.";
  if (Object.keys(points).length === 0)
    return "Nobody was found. Mark the hands, and it is looked there; or drag the joints yourself.";
  return "Drag a joint, or move it with the arrow keys.";
}
