/** A film read frame by frame, and what stands in it. Holds and leans only the core finds. */
import type { Points } from "./points";

/** So many frames a second are read: enough for tenths of a second. */
export const FRAMES_A_SECOND = 10;
/** So long a film is read, s. */
export const LONGEST_S = 240;

export interface FilmFrame {
  t_s: number;
  points: Points | null;
}

/** A film opened: it can be set to any moment. */
export async function openFilm(file: File): Promise<HTMLVideoElement> {
  const video = document.createElement("video");
  video.muted = true;
  video.playsInline = true;
  video.preload = "auto";
  video.src = URL.createObjectURL(file);
  await new Promise<void>((resolve, reject) => {
    video.onloadeddata = () => resolve();
    video.onerror = () => reject(new Error("This browser cannot read that film. Try MP4 or WebM."));
  });
  if (!Number.isFinite(video.duration)) {
    // recorded by a browser, a film may not say how long it is until its end was looked for
    await goTo(video, 1e6);
    await goTo(video, 0);
  }
  return video;
}

/** Set a film to a moment, s, and wait until that frame stands there. */
export function goTo(video: HTMLVideoElement, t_s: number): Promise<void> {
  return new Promise((resolve) => {
    const end = Number.isFinite(video.duration) ? Math.max(0, video.duration - 0.001) : t_s;
    const wanted = Math.min(t_s, end);
    if (Math.abs(video.currentTime - wanted) < 1e-4 && !video.seeking) return resolve();
    video.onseeked = () => resolve();
    video.currentTime = wanted;
  });
}

/** Half a frame in: a moment on the very edge of two frames may show either. */
export const momentOf = (frame: number) => (frame + 0.5) / FRAMES_A_SECOND;

/** How many frames of a film are read. */
export const framesOf = (video: HTMLVideoElement) =>
  Math.max(1, Math.floor(Math.min(LONGEST_S, video.duration) * FRAMES_A_SECOND));

/** Let go of a film. */
export function closeFilm(video: HTMLVideoElement) {
  URL.revokeObjectURL(video.src);
  video.removeAttribute("src");
}

/** The key points of a film as CSV with time, as `./perch line` reads them. */
export function filmAsCsv(frames: FilmFrame[]): string {
  const rows = frames.flatMap((frame) =>
    Object.entries(frame.points ?? {}).map(
      ([name, [x, y, v]]) => `${frame.t_s.toFixed(2)},side,${name},${x.toFixed(1)},${y.toFixed(1)},${v}`,
    ),
  );
  return ["t_s,view,point,x,y,v", ...rows, ""].join("\r\n");
}
