import type { StationKind, TrainingRoom } from "../../api/client";

/** What a room has: "2 × wall, 1 × box (30 and 45 cm)". */
export const stationsInWords = (room: TrainingRoom, kinds: readonly StationKind[]) =>
  kinds
    .filter((k) => (room.stations[k.kind] ?? 0) > 0)
    .map(
      (k) =>
        `${room.stations[k.kind]} × ${k.kind}${room.heights[k.kind] ? ` (${room.heights[k.kind]})` : ""}`,
    )
    .join(", ") || "Nothing yet.";
