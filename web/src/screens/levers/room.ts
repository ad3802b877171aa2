import type { Position } from "../../api/client";
import type { Joints, Room } from "../../drawings/SideFigure";

const CM = 100;
const at = (joints: Joints, name: string, axis: 0 | 1) => joints[name]?.[axis] ?? 0;

/** Which way the fingers point in a drawing: as the model lays the hand. */
export const fingersOf = (joints: Joints): 1 | -1 =>
  at(joints, "fingertips", 0) < at(joints, "wrist", 0) ? -1 : 1;

/** What stands around the body at these settings: boxes, pads, the wall, and the distance that is dialled. */
export function roomOf(position: Position, joints: Joints, figures: Record<string, number>): Room {
  const { lever, settings, in_body } = position;
  const metres = (knob: string) => (settings[knob] ?? 0) / CM;
  const room: Room = { floor: 0, boxes: [] };
  const span = (knob: string, from: number, to: number, title: string) => {
    const own = in_body[knob];
    room.span = { from, to, words: `${title} ${settings[knob]} cm${own ? ` · ${own}` : ""}` };
  };
  const under = (joint: string, knob: string, ahead = 0.06, behind = 0.4) => {
    const height = metres(knob);
    if (height > 0.005)
      room.boxes.push({
        from: at(joints, joint, 0) - ahead,
        to: at(joints, joint, 0) + behind,
        top: height,
        bottom: 0,
        words: `${settings[knob]} cm`,
      });
  };
  switch (lever) {
    case "pike-push-up":
    case "pike-hold":
      under("ball", "surface-height");
      span("hands-to-feet", 0, at(joints, "ball", 0), "hands to feet");
      break;
    case "knees-on-bench":
      under("knee", "surface-height", 0.1, 0.75);
      span("hands-to-knees", 0, at(joints, "knee", 0), "hands to knees");
      break;
    case "low-surface":
      under("ball", "surface-height");
      break;
    case "right-angle":
      room.boxes.push({
        from: at(joints, "ball", 0) - 0.06,
        to: at(joints, "ball", 0) + 0.4,
        top: at(joints, "ball", 1),
        bottom: 0,
        words: `${Math.round((figures.box_cm ?? 0) * 1)} cm`,
      });
      break;
    case "wall-chest":
    case "wall-back": {
      room.wall = (lever === "wall-back" ? 1 : -1) * metres("hands-to-wall");
      span("hands-to-wall", 0, room.wall, "hands to wall");
      break;
    }
    case "braced-lean":
      room.wall = -(figures.hands_to_wall_cm ?? 0) / CM;
      break;
    case "pads": {
      const pad = metres("pad-height");
      room.floor = Math.min(0, pad);
      if (pad > 0)
        room.boxes.push({
          from: -0.14,
          to: 0.14,
          top: pad,
          bottom: 0,
          words: `${settings["pad-height"]} cm`,
          soft: true,
        });
      if (pad < 0)
        room.boxes.push({
          from: -0.03,
          to: 0.22,
          top: 0,
          bottom: pad,
          words: `${-(settings["pad-height"] ?? 0)} cm`,
        });
      break;
    }
    case "press":
      under("toes", "surface-height", 0.42, 0.04);
      break;
    case "stalder":
      span("target-distance", at(joints, "toes", 0), 0, "target");
      break;
    case "ball-lean":
      room.ball = { x: at(joints, "support", 0), top: at(joints, "support", 1) - 0.03 };
      break;
    case "push-up":
      under("ball", "feet-height");
      if (metres("hands-height") > 0.005)
        room.boxes.push({
          from: -0.25,
          to: 0.1,
          top: metres("hands-height"),
          bottom: 0,
          words: `${settings["hands-height"]} cm`,
        });
      break;
  }
  return room;
}
