import { useEffect, useRef, useState } from "react";
import { ask, client, Failure, type LinePage } from "../../api/client";
import { type Box, moved, type Points, placed, type Triple, type View } from "../../line/points";
import { useFinder } from "../../line/useFinder";

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

const dayOf = (file: File) => new Date(file.lastModified || Date.now());
/** A day as dates are typed. */
export const asDay = (at: Date) =>
  `${at.getFullYear()}-${String(at.getMonth() + 1).padStart(2, "0")}-${String(at.getDate()).padStart(2, "0")}`;

/** Round the hands it is looked in so much of the picture, then in less: as large as the picture allows, until somebody is found. */
const SHARES = [1, 0.7, 0.5, 0.36];

interface Props {
  page: LinePage;
  view: View;
  onView: (view: View) => void;
}

/** The picture at hand with its joints: opened, looked at by the model, placed and moved by hand. Nothing of it leaves this browser but joints. */
export function useJoints({ page, view, onView }: Props) {
  const [shown, setShownAs] = useState<Shown | null>(null);
  // counts pictures, so that what was said of one is never taken for what is said of the next
  const [of, setOf] = useState(0);
  const [film, setFilm] = useState<File | null>(null);
  const [points, setPoints] = useState<Points>({});
  const [marking, setMarking] = useState(false);
  const [looking, setLooking] = useState(false);
  const [wrong, setWrong] = useState("");
  const [cut, setCut] = useState<Box | null>(null);
  const finder = useFinder("full", { wanted: of > 0, follows: false });
  const asked = useRef(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another picture is a whole one again
  useEffect(() => setCut(null), [shown?.picture, shown?.frame]);

  const setShown = (next: Shown | null) => {
    setShownAs(next);
    setOf((before) => before + 1);
  };
  /** A picture with the joints that are known of it; what was still looked for is not wanted any more. */
  const showAs = (next: Shown | null, found: Points) => {
    asked.current++;
    setShown(next);
    setLooking(false);
    setMarking(false);
    setPoints(found);
  };
  const look = async (next: Shown) => {
    const turn = asked.current;
    setLooking(true);
    const found = await finder.find(await createImageBitmap(next.picture));
    if (turn !== asked.current) return;
    setLooking(false);
    setPoints(found ?? {});
  };
  const open = async (file: File) => {
    setWrong("");
    try {
      if (file.type.startsWith("video/")) {
        showAs(null, {});
        return setFilm(file);
      }
      if (/\.(json|csv)$/i.test(file.name)) return await openPoints(file);
      const picture = await createImageBitmap(file);
      const { width, height } = picture;
      const next = { picture, width, height, name: file.name, day: asDay(dayOf(file)) };
      setFilm(null);
      showAs(next, {});
      void look(next);
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
    showAs(
      { picture: paper.transferToImageBitmap(), width, height, name: file.name, day: asDay(dayOf(file)) },
      Object.fromEntries(
        Object.entries(found.points)
          .filter(([, p]) => (p[2] ?? 0) > 0)
          .map(([name, [x = 0, y = 0, v = 0]]) => [name, [x, y, v] as Triple]),
      ),
    );
    onView(found.view);
  };
  const placeAbove = (at: { x: number; y: number }) => {
    if (!shown) return;
    // no joint stands where it cannot be taken hold of
    const path = Math.min(shown.height * 0.7, at.y * 0.94);
    setPoints(placed(page.shape, view, at, path, 1));
  };
  /** The hands were marked: it is looked round them, or a straight body is placed above them. */
  const hands = async (at: { x: number; y: number }) => {
    setMarking(false);
    if (!shown) return;
    // what was looked for before the hands were marked would put its answer, or its finding nobody, over them
    const turn = ++asked.current;
    if (finder.state.at !== "ready") {
      setLooking(false);
      return placeAbove(at);
    }
    setLooking(true);
    for (const share of SHARES) {
      const h = shown.height * share;
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
    placeAbove(at);
  };
  return {
    shown,
    of,
    film,
    points,
    marking,
    setMarking,
    looking,
    wrong,
    setWrong,
    finder,
    /** The part of the picture that is judged: where the hands were marked it was cut to the body. */
    frame: cut ?? { x: 0, y: 0, w: shown?.width ?? 1, h: shown?.height ?? 1 },
    open,
    showFrame: (next: Shown, found: Points | null) => showAs(next, found ?? {}),
    hands,
    move: (names: string[], dx: number, dy: number) => setPoints((before) => moved(before, names, dx, dy)),
    /** Say to which side the fingers point: nobody else may see it. */
    point: (over: number) =>
      setPoints((before) => {
        const wrist = before.left_wrist ?? before.right_wrist;
        if (!wrist || !shown) return before;
        const { right_finger: _, ...rest } = before;
        return { ...rest, left_finger: [wrist[0] + over * shown.height * 0.04, wrist[1], 2] };
      }),
    clear: () => {
      setFilm(null);
      showAs(null, {});
    },
  };
}

/** What `useJoints` gives. */
export type Joints = ReturnType<typeof useJoints>;
