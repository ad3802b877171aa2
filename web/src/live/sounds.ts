/** For hands that are busy: short tones, a buzz in the pocket, a voice that counts. What of them, and how loud, is the coach's own choice. */

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

/** How long each tone is felt where the device can: ms on, off, on. */
const BUZZES: Record<Tone, number[]> = {
  start: [120],
  stop: [60, 60, 60],
  soon: [30],
  switch: [60, 40, 120],
  touch: [20],
};
/** A tone at full volume; more would hurt in a quiet hall. */
const LOUDEST = 0.36;

let context: AudioContext | undefined;
let on = true;
let choice = { volume: 70, vibration: true, voice: false };

/** Turn tones on or off in this browser. */
export const setSounds = (wanted: boolean) => {
  on = wanted;
};

/** How loud tones are (percent), whether they are felt too, and whether a voice counts. */
export const chooseSounds = (wanted: { volume: number; vibration: boolean; voice: boolean }) => {
  choice = wanted;
};

/** Count aloud, by the browser's own speech where it has one. A number that comes late would be wrong: it takes the place of the one before. */
export function count(second: number) {
  if (!on || !choice.voice || second < 1) return;
  window.dispatchEvent(new CustomEvent("perch:voice", { detail: second }));
  if (!("speechSynthesis" in window)) return;
  const said = new SpeechSynthesisUtterance(String(second));
  said.lang = "en";
  said.volume = choice.volume / 100;
  said.rate = 1.3;
  window.speechSynthesis.cancel();
  window.speechSynthesis.speak(said);
}

/** Sound a tone, where the browser lets a page sound at all. The event lets whoever listens know, heard or not. */
export function sound(tone: Tone) {
  // felt without being heard: a phone in the pocket of whoever spots
  if (choice.vibration && "vibrate" in navigator) navigator.vibrate(BUZZES[tone]);
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
      loud.gain.linearRampToValueAtTime((LOUDEST * choice.volume) / 100, at + 0.01);
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
