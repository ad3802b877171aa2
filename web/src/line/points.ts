/** Key points of a picture as the browser holds them; what they mean only the core says. */
import type { LineJudged, PictureOfDrill } from "../api/client";

/** x, y in px of the picture, image axes, and how sure: 2 seen or placed by hand, 1 guessed. */
export type Triple = [number, number, number];
export type Points = Record<string, Triple>;
export type View = PictureOfDrill["view"];
export type Handle = LineJudged["handles"][number];

/** A part of the picture, px. */
export interface Box {
  x: number;
  y: number;
  w: number;
  h: number;
}

/** Points moved by so much, and sure from now on: a hand put them there. */
export function moved(points: Points, names: string[], dx: number, dy: number): Points {
  const next = { ...points };
  for (const name of names) {
    const at = next[name];
    if (at) next[name] = [at[0] + dx, at[1] + dy, 2];
  }
  return next;
}

/** A straight body placed by hand: above the hands, its fingers to one side. */
export function placed(
  shape: Record<string, readonly number[]>,
  view: View,
  hands: { x: number; y: number },
  path: number,
  over: number,
): Points {
  const found: Points = {};
  for (const [part, at] of Object.entries(shape)) {
    const y = hands.y - (at[1] ?? 0) * path;
    if (view === "side") found[`left_${part}`] = [hands.x, y, 2];
    else {
      found[`left_${part}`] = [hands.x - path * 0.1, y, 2];
      found[`right_${part}`] = [hands.x + path * 0.1, y, 2];
    }
  }
  if (view === "side") found.left_finger = [hands.x + over * path * 0.06, hands.y, 2];
  return found;
}
