/** Finds the joints of a body in a picture, away from the page. Nothing leaves the browser: model and runtime come from where the page does. */
import { PoseLandmarker } from "@mediapipe/tasks-vision";
import type { Box, Points } from "./points";

export type Kind = "lite" | "full";
export type Asked =
  | { kind: "load"; model: Kind; follows: boolean }
  | { kind: "find"; id: number; picture: ImageBitmap; box: Box | null };
export type Said =
  | { kind: "loading"; share: number }
  | { kind: "loaded" }
  | { kind: "absent"; why: string }
  | { kind: "found"; id: number; points: Points | null };

const SEEN_FROM = 0.5;
/** What the model's thirty-three points are called here; the others are not needed. */
const NAMES: Record<number, string> = {
  0: "nose",
  2: "left_eye",
  5: "right_eye",
  7: "left_ear",
  8: "right_ear",
  11: "left_shoulder",
  12: "right_shoulder",
  13: "left_elbow",
  14: "right_elbow",
  15: "left_wrist",
  16: "right_wrist",
  19: "left_finger",
  20: "right_finger",
  23: "left_hip",
  24: "right_hip",
  25: "left_knee",
  26: "right_knee",
  27: "left_ankle",
  28: "right_ankle",
  29: "left_heel",
  30: "right_heel",
  31: "left_toe",
  32: "right_toe",
};
/** A picture is brought to at most so many px of height: the model looks at fewer. */
const HIGHEST = 720;
/** Round the body that was found, so many body lengths are looked at again. */
const AROUND = 1.4;

/** A worker's own global, which the page's types do not know. */
const scope = self as unknown as {
  postMessage: (said: Said) => void;
  onmessage: ((event: MessageEvent<Asked>) => void) | null;
};

let finder: PoseLandmarker | undefined;

async function bytes(path: string): Promise<Uint8Array> {
  const answer = await fetch(path);
  if (!answer.ok || !answer.body) throw new Error(`${path}: ${answer.status}`);
  const whole = Number(answer.headers.get("content-length")) || 0;
  const parts: Uint8Array[] = [];
  let read = 0;
  const reader = answer.body.getReader();
  for (let part = await reader.read(); !part.done; part = await reader.read()) {
    parts.push(part.value);
    read += part.value.length;
    say({ kind: "loading", share: whole ? Math.min(1, read / whole) : 0 });
  }
  const all = new Uint8Array(read);
  let at = 0;
  for (const part of parts) {
    all.set(part, at);
    at += part.length;
  }
  return all;
}

/** Whether one picture follows another: where the body was is where it is looked for. */
let following = false;
let moment = 0;

async function load(model: Kind, follows: boolean) {
  try {
    const modelAssetBuffer = await bytes(`/pose/pose_${model}.task`);
    finder?.close();
    finder = await PoseLandmarker.createFromOptions(
      {
        wasmLoaderPath: "/pose/vision_wasm_module_internal.js",
        wasmBinaryPath: "/pose/vision_wasm_module_internal.wasm",
      },
      {
        baseOptions: { modelAssetBuffer, delegate: "CPU" },
        runningMode: follows ? "VIDEO" : "IMAGE",
        numPoses: 1,
        minPoseDetectionConfidence: 0.4,
        minPosePresenceConfidence: 0.4,
      },
    );
    following = follows;
    say({ kind: "loaded" });
  } catch (error) {
    say({ kind: "absent", why: error instanceof Error ? error.message : String(error) });
  }
}

/** The points in a part of a picture, which is turned upside down first where `turned`: the model knows people who stand. */
function look(picture: ImageBitmap, box: Box, turned: boolean): Points | null {
  if (!finder) return null;
  const scale = Math.min(1, HIGHEST / box.h);
  const [w, h] = [Math.max(1, Math.round(box.w * scale)), Math.max(1, Math.round(box.h * scale))];
  const canvas = new OffscreenCanvas(w, h);
  const context = canvas.getContext("2d");
  if (!context) return null;
  if (turned) {
    context.translate(w, h);
    context.rotate(Math.PI);
  }
  context.drawImage(picture, box.x, box.y, box.w, box.h, 0, 0, w, h);
  moment += 100;
  const found = (following ? finder.detectForVideo(canvas, moment) : finder.detect(canvas)).landmarks[0];
  if (!found) return null;
  const points: Points = {};
  for (const [n, name] of Object.entries(NAMES)) {
    const at = found[Number(n)];
    if (!at) continue;
    const [x, y] = turned ? [1 - at.x, 1 - at.y] : [at.x, at.y];
    points[name] = [box.x + x * box.w, box.y + y * box.h, (at.visibility ?? 0) >= SEEN_FROM ? 2 : 1];
  }
  return points;
}

const middle = (points: Points, part: string) => {
  const [a, b] = [points[`left_${part}`], points[`right_${part}`]];
  return a && b ? { x: (a[0] + b[0]) / 2, y: (a[1] + b[1]) / 2 } : undefined;
};

/** Whether the feet stand above the hands. */
const feetUp = (points: Points) =>
  (middle(points, "ankle")?.y ?? Number.POSITIVE_INFINITY) < (middle(points, "wrist")?.y ?? 0);

/** Where a body was found, with room round it. */
function roundBody(points: Points, picture: ImageBitmap): Box {
  const all = Object.values(points);
  const [xs, ys] = [all.map((p) => p[0]), all.map((p) => p[1])];
  const high = Math.max(...ys) - Math.min(...ys);
  const wide = Math.max(...xs) - Math.min(...xs);
  const side = Math.max(high, wide) * AROUND;
  const [cx, cy] = [(Math.max(...xs) + Math.min(...xs)) / 2, (Math.max(...ys) + Math.min(...ys)) / 2];
  const x = Math.max(0, cx - side / 2);
  const y = Math.max(0, cy - side / 2);
  return {
    x,
    y,
    w: Math.min(picture.width, cx + side / 2) - x,
    h: Math.min(picture.height, cy + side / 2) - y,
  };
}

function find(picture: ImageBitmap, box: Box | null): Points | null {
  const whole = box ?? { x: 0, y: 0, w: picture.width, h: picture.height };
  const first = look(picture, whole, true);
  if (first && feetUp(first)) {
    const near = roundBody(first, picture);
    // a body that fills the picture is not looked at twice
    if (box || following || near.h > 0.8 * picture.height) return first;
    const again = look(picture, near, true);
    return again && feetUp(again) ? again : first;
  }
  // somebody who stands, or a picture that was turned before; in a film that would lose the thread
  return following ? null : look(picture, whole, false);
}

const say = (said: Said) => scope.postMessage(said);

scope.onmessage = (event) => {
  const asked = event.data;
  if (asked.kind === "load") return void load(asked.model, asked.follows);
  let points: Points | null = null;
  try {
    points = find(asked.picture, asked.box);
  } finally {
    asked.picture.close();
    say({ kind: "found", id: asked.id, points });
  }
};
