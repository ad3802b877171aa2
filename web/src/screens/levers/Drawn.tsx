import type { Position, Seen } from "../../api/client";
import { SideFigure } from "../../drawings/SideFigure";

interface Props {
  position: Position;
  seen: Seen;
  beside?: Seen | undefined;
  title: string;
}

/** A position as a drawing: the side figure with the room around it. */
export function Drawn({ position, seen, beside, title }: Props) {
  if (seen.because)
    return (
      <p className="grid h-[350px] place-items-center border-b-2 border-ink text-center text-soft">
        No drawing: this position cannot be.
      </p>
    );
  return (
    <SideFigure
      joints={seen.joints}
      behind={beside && !beside.because ? beside.joints : undefined}
      centre={seen.centre}
      hand={position.hand}
      fingers={seen.fingers < 0 ? -1 : 1}
      room={seen.room}
      labels={seen.labels}
      load={seen.on_hands}
      scaleKey={`${position.lever} ${seen.view} ${position.stature}`}
      height={350}
      label={`${title}, ${seen.title.toLowerCase()}: ${seen.figures.map((f) => `${f.title} ${f.words}`).join(", ")}`}
    />
  );
}
