const WORDS = ["afraid", "unsure", "all right", "sure", "at ease"];

/** How sure the trainee was, 1 to 5: it goes with the evidence, since a gate met in fear proves nothing. */
export function Confidence({ value, onPick }: { value: number | null; onPick: (n: number) => void }) {
  return (
    <fieldset className="my-2">
      <legend className="font-bold">How sure did it feel? The trainee says, 1 to 5.</legend>
      <div className="mt-1 flex flex-wrap gap-2">
        {WORDS.map((words, n) => (
          <button
            key={words}
            type="button"
            aria-pressed={value === n + 1}
            className={`min-h-14 rounded-md border px-4 ${value === n + 1 ? "border-blue bg-tint font-bold" : "border-soft"}`}
            onClick={() => onPick(n + 1)}
          >
            {n + 1} {words}
          </button>
        ))}
      </div>
    </fieldset>
  );
}
