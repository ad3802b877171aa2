/** The hours of an evening, as they stand along its ribbons. */

/** The hour at a minute of the evening: "18:25". */
export function hourAt(time: string, minute: number) {
  const [h = 0, m = 0] = time.split(":").map(Number);
  const at = h * 60 + m + Math.floor(minute + 1e-6);
  return `${String(Math.floor(at / 60) % 24).padStart(2, "0")}:${String(at % 60).padStart(2, "0")}`;
}

/** What is left, as a clock runs down: "1:30". */
export function leftOf(minutes: number) {
  const s = Math.max(0, Math.ceil(minutes * 60 - 1e-6));
  return `${Math.floor(s / 60)}:${String(s % 60).padStart(2, "0")}`;
}
