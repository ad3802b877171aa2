import type { Drill, DrillWords, Line } from "../../api/client";

interface Props {
  line: Line;
  words: Record<string, DrillWords>;
  picked: string | null;
  onPick: (drill: string) => void;
}

/** One line from its hardest rung down to the floor; drills on one rung stand side by side in a bracket. */
export function LineList({ line, words, picked, onPick }: Props) {
  return (
    <section aria-label={`${line.title} line`}>
      <p className="mb-2 text-soft">
        {line.about} {line.chained === false && "Its drills wait for nobody but those they name."}
      </p>
      <ol reversed className="border-x-[7px] border-darkwood px-2 py-1">
        {[...line.rungs].reverse().map((rung) => (
          <li
            key={rung[0]?.drill}
            className={`border-b border-rule py-0.5 last:border-b-0 ${rung.length > 1 ? "border-r-4 border-r-lightwood" : ""}`}
          >
            {rung.map((d) => (
              <Row key={d.drill} d={d} words={words[d.drill]} picked={picked === d.drill} onPick={onPick} />
            ))}
          </li>
        ))}
      </ol>
    </section>
  );
}

interface RowProps {
  d: Drill;
  words: DrillWords | undefined;
  picked: boolean;
  onPick: (drill: string) => void;
}

function Row({ d, words, picked, onPick }: RowProps) {
  const marks = [
    d.optional && "optional",
    d.away && "away from the wall",
    d.head && "head near the floor",
    d.retired && "retired",
  ].filter(Boolean);
  return (
    <button
      type="button"
      aria-pressed={picked}
      onClick={() => onPick(d.drill)}
      className={`grid w-full grid-cols-[1fr_auto] gap-x-4 px-2 py-1 text-left hover:bg-tint ${picked ? "bg-tint" : ""}`}
    >
      <span className={`font-bold ${d.retired ? "text-faint line-through" : ""}`}>{d.title}</span>
      <span className="text-right">
        {words?.gate} <span className="text-xs text-soft">{words?.gate_origin}</span>
      </span>
      <span className="text-sm text-soft">{words?.doses[0]?.words ?? d.about}</span>
      <span className="text-right text-sm text-soft">{marks.join(", ")}</span>
    </button>
  );
}
