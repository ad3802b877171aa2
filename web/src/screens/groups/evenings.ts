/** Evenings of a group in words. */
import type { Evening } from "../../api/client";

export const WEEKDAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

/** "Tuesday 18:30, Thursday 19:00". */
export const eveningsInWords = (evenings: readonly Evening[]) =>
  evenings.map((e) => `${WEEKDAYS[e.weekday]} ${e.time}`).join(", ") || "no evening yet";
