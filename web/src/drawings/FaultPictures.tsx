import type { DrawnDrill } from "../api/client";
import { DrillPicture } from "./DrillPicture";

/** What to look for, drawn, with what to say to it. */
export function FaultPictures({ faults }: { faults: DrawnDrill["faults"] }) {
  if (!faults.length) return null;
  return (
    <ul className="my-3 grid grid-cols-2 gap-3">
      {faults.map((f) => (
        <li key={f.fault} className="border-t-2 border-brick pt-1 text-sm">
          <DrillPicture drawn={{ title: f.title, pictures: [f.picture], room: f.room }} size="h-28" />
          <b>{f.title}</b>
          <span className="block text-soft">“{f.cue}”</span>
        </li>
      ))}
    </ul>
  );
}
