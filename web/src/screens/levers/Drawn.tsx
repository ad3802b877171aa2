import type { Position, Seen } from "../../api/client";
import { type JointLabel, SideFigure } from "../../drawings/SideFigure";
import { fingersOf, roomOf } from "./room";

interface Props {
  position: Position;
  seen: Seen;
  beside?: Seen | undefined;
  title: string;
}

/** At which joint a figure stands in the drawing. */
const AT: Record<string, string> = {
  shoulder_moment_nm: "shoulder",
  elbow_moment_nm: "elbow",
  hip_angle_deg: "hip",
  wall_force_n: "heel",
};

/** A position as a drawing: the side figure with the room around it. */
export function Drawn({ position, seen, beside, title }: Props) {
  const figures = Object.fromEntries(seen.figures.map((f) => [f.figure, f.value]));
  const words = Object.fromEntries(seen.figures.map((f) => [f.figure, f.words]));
  if (seen.because)
    return (
      <p className="grid h-[350px] place-items-center border-b-2 border-ink text-center text-soft">
        No drawing: this position can not be.
      </p>
    );
  const labels: JointLabel[] = Object.entries(AT).flatMap(([figure, joint]) => {
    const on = figure === "wall_force_n" && position.lever !== "wall-back" ? "toes" : joint;
    return words[figure] ? [{ joint: on, words: words[figure] }] : [];
  });
  return (
    <SideFigure
      joints={seen.joints}
      behind={beside && !beside.because ? beside.joints : undefined}
      centre={seen.centre}
      hand={position.hand}
      fingers={fingersOf(seen.joints)}
      room={roomOf(position, seen.joints, figures)}
      labels={labels}
      load={words.share ? `${words.share} on the hands` : ""}
      scaleKey={`${position.lever} ${seen.view} ${position.stature}`}
      height={350}
      label={`${title}, ${seen.title.toLowerCase()}: ${seen.figures.map((f) => `${f.title} ${f.words}`).join(", ")}`}
    />
  );
}
