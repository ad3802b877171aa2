import { useLayoutEffect, useRef, useState } from "react";
import { Button } from "../../parts/Button";
import type { TryInHand } from "./useTry";

const STEPS = [-10, -1, 1, 10];

/** A figure that is read off: typed, or stepped by thumb. Enter keeps it. Give it the try as its key: each try begins with an empty field. */
export function NumberEntry({ hand }: { hand: TryInHand }) {
  const { mode, value } = hand;
  const [text, setText] = useState(value === null ? "" : String(value));
  const [wrong, setWrong] = useState(false);
  const box = useRef<HTMLInputElement>(null);
  // with the page itself and not after it is painted: what is typed at once belongs to this try
  useLayoutEffect(() => box.current?.focus(), []);
  // a figure that was taken back is gone from the field as well
  const shown = value === null && !wrong ? "" : text;
  const set = (typed: string) => {
    setText(typed);
    const figure = Number(typed.replace(",", "."));
    const good = typed.trim() !== "" && Number.isFinite(figure);
    setWrong(typed.trim() !== "" && !good);
    if (good) hand.setValue(figure);
    else hand.drop();
  };
  const keep = mode.marks.find((m) => m.figure && m.key === "Enter");
  const unit = mode.measure === "angle" ? "degrees" : mode.measure === "distance" ? "cm" : mode.figure;
  return (
    <form
      className="my-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (keep && shown.trim() !== "" && !wrong) hand.keep(keep);
      }}
    >
      <label className="flex flex-wrap items-baseline gap-4">
        <span className="sr-only">{mode.title}, </span>
        <input
          ref={box}
          inputMode="decimal"
          autoComplete="off"
          aria-invalid={wrong}
          className="w-[5ch] rounded-md border-2 border-blue bg-paper px-3 font-head text-[8rem] leading-none font-bold text-blue max-sm:text-[5rem]"
          value={shown}
          onChange={(event) => set(event.target.value)}
        />
        <span className="font-head text-5xl font-bold text-blue max-sm:text-3xl">{unit}</span>
      </label>
      {wrong && (
        <p role="alert" className="mt-2 font-bold text-brick">
          This is no number.
        </p>
      )}
      <p className="mt-3 flex flex-wrap gap-2">
        {STEPS.map((step) => (
          <Button
            key={step}
            className="min-h-14 min-w-16"
            aria-label={`${step > 0 ? "up" : "down"} by ${Math.abs(step)}`}
            onClick={() => set(String((Number(shown.replace(",", ".")) || 0) + step))}
          >
            {step > 0 ? `+${step}` : `−${-step}`}
          </Button>
        ))}
      </p>
    </form>
  );
}
