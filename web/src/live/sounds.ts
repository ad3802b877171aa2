/** Short tones for hands that are busy: start, stop, the last seconds of a rest, another way of measuring. */

export type Tone = "start" | "stop" | "soon" | "switch" | "touch";

const TONES: Record<Tone, [hertz: number, seconds: number][]> = {
  start: [[880, 0.14]],
  stop: [[440, 0.22]],
  soon: [[660, 0.07]],
  switch: [
    [520, 0.12],
    [780, 0.18],
  ],
  touch: [[330, 0.05]],
};

let context: AudioContext | undefined;
let on = true;

/** Turn tones on or off in this browser. */
export const setSounds = (wanted: boolean) => {
  on = wanted;
};

/** Sound a tone, where the browser lets a page sound at all. The event lets whoever listens know, heard or not. */
export function sound(tone: Tone) {
  if (!on) return;
  window.dispatchEvent(new CustomEvent("perch:tone", { detail: tone }));
  try {
    context ??= new AudioContext();
    void context.resume();
    let at = context.currentTime;
    for (const [hertz, seconds] of TONES[tone]) {
      const voice = context.createOscillator();
      const loud = context.createGain();
      voice.frequency.value = hertz;
      // a soft edge at both ends, so that nothing clicks
      loud.gain.setValueAtTime(0, at);
      loud.gain.linearRampToValueAtTime(0.25, at + 0.01);
      loud.gain.linearRampToValueAtTime(0, at + seconds);
      voice.connect(loud).connect(context.destination);
      voice.start(at);
      voice.stop(at + seconds);
      at += seconds;
    }
  } catch {
    // no sound here; the figures say the same
  }
}
