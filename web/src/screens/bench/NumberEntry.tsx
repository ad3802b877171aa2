import { useEffect, useRef, useState } from "react";
import { Button } from "../../parts/Button";
import type { TryInHand } from "./useTry";

const STEPS = [-10, -1, 1, 10];

/** A figure that is read off: typed, or stepped by thumb. Enter keeps it. */
export function NumberEntry({ hand }: { hand: TryInHand }) {
  const { mode, value, tries } = hand;
  const [text, setText] = useState(value === null ? "" : String(value));
  const [wrong, setWrong] = useState(false);
  const box = useRef<HTMLInputElement>(null);
  // each try begins with an empty field, and with the hand in it
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new try is what clears it
  useEffect(() => {
    setText("");
    setWrong(false);
    box.current?.focus();
  }, [tries.length]);
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
        if (keep && text.trim() !== "" && !wrong) hand.keep(keep);
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
          value={text}
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
            onClick={() => set(String((Number(text.replace(",", ".")) || 0) + step))}
          >
            {step > 0 ? `+${step}` : `−${-step}`}
          </Button>
        ))}
      </p>
    </form>
  );
}
