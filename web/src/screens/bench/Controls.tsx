import { Button } from "../../parts/Button";
import { FORMS } from "../../parts/words";
import { type Choice, shown } from "./choices";
import type { TryInHand } from "./useTry";

interface ControlsProps {
  choices: Choice[];
  lit: string | undefined;
  hand: TryInHand;
  onPain: () => void;
}

/** The keys of the Bench as buttons: what can be done now, the form, taking back, and the stop for pain. */
export function Controls({ choices, lit, hand, onPain }: ControlsProps) {
  const { hold, tries, phase, mode } = hand;
  // what one key or one reading says has no form beside it
  const formed =
    phase !== "over" && mode.takes !== "number" && (mode.takes !== "mark" || mode.ladder !== null);
  return (
    <div className="mt-2 grid gap-3 max-sm:gap-2">
      <div className="flex flex-wrap gap-3 max-sm:gap-2">
        {choices.map((choice, n) => (
          <Button
            key={choice.id}
            kind={choice.kind ?? "plain"}
            live
            keycap={shown(choice.keycap)}
            disabled={choice.off === true}
            onClick={choice.act}
            data-lit={choice.id === lit || undefined}
            className={`${n === 0 && choice.kind === "act" ? "grow-[3] basis-[12rem] max-sm:basis-full" : "grow basis-[8.5rem] max-sm:basis-[30%] max-sm:px-2"} data-lit:outline-4 data-lit:outline-offset-2 data-lit:outline-blue`}
          >
            {choice.words}
          </Button>
        ))}
      </div>
      <div className={`grid gap-3 max-sm:gap-2 ${formed ? "grid-cols-5 max-sm:grid-cols-6" : "grid-cols-2"}`}>
        {formed &&
          FORMS.map(([form, words]) => (
            <Button
              key={form}
              disabled={!hold}
              aria-pressed={hold?.form === form}
              keycap={form === "lost" ? "X" : words.charAt(0).toUpperCase()}
              onClick={() => hand.mark(form)}
              className={`min-h-14 max-sm:col-span-2 max-sm:px-2 ${hold?.form === form ? "border-blue bg-tint" : ""}`}
            >
              {words}
            </Button>
          ))}
        <Button
          keycap="Z"
          disabled={!hold && !tries.length}
          onClick={hand.undo}
          className={`min-h-14 max-sm:px-2 ${formed ? "max-sm:col-span-3" : ""}`}
        >
          Take back
        </Button>
        <Button
          kind="danger"
          keycap="P"
          onClick={onPain}
          className={`min-h-14 max-sm:px-2 ${formed ? "max-sm:col-span-3" : ""}`}
        >
          Pain stop
        </Button>
      </div>
    </div>
  );
}
