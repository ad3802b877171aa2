/** The answer to a question about health; empty until one is given. */
export type Answer = "yes" | "no" | "";
const YES_NO = [
  ["no", "no"],
  ["yes", "yes"],
] as const;

interface CautionProps {
  question: string;
  advice: string;
  value: Answer;
  onPick: (answer: Answer) => void;
}

/** One thing to ask with yes or no, and what a yes asks for. */
export function Caution({ question, advice, value, onPick }: CautionProps) {
  return (
    <li className="border-b border-rule py-1.5">
      <fieldset className="flex flex-wrap items-center justify-between gap-x-4">
        <legend className="float-left min-w-60 font-bold">{question}</legend>
        {value === "yes" && <span className="grow text-sm text-brick">{advice}</span>}
        <span className="ml-auto flex gap-2">
          {YES_NO.map(([key, words]) => (
            <label
              key={key}
              className="flex min-h-9 cursor-pointer items-center gap-2 rounded-md border border-soft px-3 has-checked:border-blue has-checked:bg-tint has-focus-visible:outline-3 has-focus-visible:outline-blue"
            >
              <input
                type="radio"
                name={question}
                className="accent-blue"
                checked={value === key}
                onChange={() => onPick(key)}
              />
              {words}
            </label>
          ))}
        </span>
      </fieldset>
    </li>
  );
}
