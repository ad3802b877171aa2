import { useEffect, useRef } from "react";
import type { Outline } from "../../api/client";
import type { Handle } from "../../line/points";
import { Button } from "../../parts/Button";
import { OutlineOf } from "./OutlineOf";

/** A picture that is held against another: it stays in this browser's memory, and is gone with the page. */
export interface Held {
  picture: ImageBitmap | HTMLVideoElement;
  width: number;
  height: number;
  handles: Handle[];
}

/** A body that another is held against: its outline, and its picture where one is at hand. */
export interface Beside {
  outline: Outline;
  words: string;
  held?: Held;
}

interface Props {
  now: Beside;
  then: Beside;
  onDrop: () => void;
}

/** Two bodies side by side, and one over the other on one scale with the hands on one spot. */
export function OneOverTheOther({ now, then, onDrop }: Props) {
  return (
    <section aria-label="Two lines" className="mt-5 border-t border-rule pt-3">
      <h2 className="text-xl">One over the other</h2>
      <div className="mt-2 flex flex-wrap items-end gap-2">
        {now.held && then.held && (
          <>
            <Drawn layers={[of(then)]} label={then.words} />
            <Drawn layers={[of(now)]} label={now.words} />
            <Drawn layers={[of(then), of(now)]} label={`${now.words} over ${then.words}`} />
          </>
        )}
        {!(now.held && then.held) && (
          <>
            <OutlineOf
              height={150}
              label={then.words}
              outlines={[{ outline: then.outline, colour: "var(--darkwood)" }]}
            />
            <OutlineOf
              height={150}
              label={now.words}
              outlines={[{ outline: now.outline, colour: "var(--ink)" }]}
            />
          </>
        )}
        <OutlineOf
          height={230}
          label={`${now.words} over ${then.words}`}
          outlines={[
            { outline: then.outline, colour: "var(--darkwood)", dashed: true },
            { outline: now.outline, colour: "var(--ink)" },
          ]}
        />
      </div>
      <p className="text-sm text-soft">
        Ink: {now.words}. Dashed wood: {then.words}. Both on one scale, hands on one spot, fingers to the
        right.
      </p>
      <Button kind="quiet" onClick={onDrop}>
        Put it away
      </Button>
    </section>
  );
}

interface Layer extends Held {
  /** Laid over one another all fingers point to the right: what points to the left is turned round. */
  over: number;
}
const of = ({ held, outline }: Beside): Layer | undefined =>
  held && { ...held, over: outline.view === "side" ? (outline.over ?? 1) : 1 };

const WIDE = 150;
const HIGH = 190;
/** From hands to feet, px of the small picture, and how far the hands stand above its lower edge. */
const TALL = 140;
const FOOT = 22;

/** One picture, or two laid over one another, brought to one scale by the joints. */
function Drawn({ layers, label }: { layers: (Layer | undefined)[]; label: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext("2d");
    if (!context) return;
    context.clearRect(0, 0, WIDE, HIGH);
    for (const [n, layer] of layers.entries()) {
      if (!layer) continue;
      const { picture, width, height, handles, over } = layer;
      const [hands, feet] = [middle(handles, "wrist"), middle(handles, "ankle")];
      if (!hands || !feet) continue;
      const scale = TALL / Math.hypot(feet.x - hands.x, feet.y - hands.y);
      context.globalAlpha = n === 0 ? 1 : 0.5;
      context.setTransform(over, 0, 0, 1, WIDE / 2, HIGH - FOOT);
      context.drawImage(picture, -hands.x * scale, -hands.y * scale, width * scale, height * scale);
      context.resetTransform();
    }
  }, [layers]);
  return (
    <canvas
      ref={canvas}
      width={WIDE}
      height={HIGH}
      role="img"
      aria-label={label}
      className="border border-rule"
    />
  );
}

function middle(handles: Handle[], part: string) {
  const found = handles.filter((h) => h.joint.startsWith(part));
  if (found.length === 0) return undefined;
  return {
    x: found.reduce((sum, h) => sum + h.x, 0) / found.length,
    y: found.reduce((sum, h) => sum + h.y, 0) / found.length,
  };
}
