import type { MeasuresPage } from "../../api/client";
import { LETTERS } from "./HowToMeasure";

interface Props {
  asked: MeasuresPage["asked"][number];
  typed: string;
  lit: boolean;
  /** What stands in for it while it is empty: "estimated 52 cm". */
  estimate: string;
  onLit: () => void;
  onType: (text: string) => void;
}

/** One length: how to take it, whether it is measured or estimated, and its field. */
export function LengthRow({ asked, typed, lit, estimate, onLit, onType }: Props) {
  return (
    <li className={`border-b border-rule py-1.5 pl-2 ${lit ? "bg-tint" : ""}`}>
      <label className="flex items-center gap-3">
        <b className="w-5 font-head">{LETTERS[asked.length] ?? ""}</b>
        <span className="grow">
          {asked.title}
          <span className="block text-sm text-soft">{asked.how}</span>
        </span>
        <span className="w-36 whitespace-nowrap text-right text-sm text-soft">
          {typed.trim() === "" ? estimate : "measured"}
        </span>
        <input
          aria-label={`${asked.title}, cm`}
          className="field max-w-24 text-right"
          inputMode="decimal"
          value={typed}
          onFocus={onLit}
          onChange={(event) => onType(event.target.value)}
        />
        <span className="text-soft">cm</span>
      </label>
    </li>
  );
}
