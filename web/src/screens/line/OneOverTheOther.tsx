import type { Outline } from "../../api/client";
import { Button } from "../../parts/Button";
import { OutlineOf } from "./OutlineOf";

interface Props {
  now: Outline;
  then: Outline;
  words: string;
  onDrop: () => void;
}

/** Two bodies side by side, and one over the other on one scale with the hands on one spot. */
export function OneOverTheOther({ now, then, words, onDrop }: Props) {
  return (
    <section aria-label="Two lines" className="mt-5 border-t border-rule pt-3">
      <h2 className="text-xl">One over the other</h2>
      <div className="mt-2 flex flex-wrap items-end gap-2">
        <OutlineOf height={150} label={words} outlines={[{ outline: then, colour: "var(--darkwood)" }]} />
        <OutlineOf height={150} label="This one" outlines={[{ outline: now, colour: "var(--ink)" }]} />
        <OutlineOf
          height={240}
          label={`This one over ${words}`}
          outlines={[
            { outline: then, colour: "var(--darkwood)", dashed: true },
            { outline: now, colour: "var(--ink)" },
          ]}
        />
      </div>
      <p className="text-sm text-soft">
        Ink: this one. Dashed wood: {words}. Both on one scale, hands on one spot.
      </p>
      <Button kind="quiet" onClick={onDrop}>
        Put it away
      </Button>
    </section>
  );
}
