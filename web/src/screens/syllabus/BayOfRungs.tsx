import { Fragment } from "react";
import type { BayLook, BayRung } from "../../api/client";
import { Button } from "../../parts/Button";

interface Props {
  rungs: BayRung[];
  measures: Record<string, string>;
  tooBig: BayLook["too_big"];
  onChange: (rungs: BayRung[]) => void;
}

/** The bay from the goal down: what is kept is wood, what is only proposed is a pale lath. */
export function BayOfRungs({ rungs, measures, tooBig, onChange }: Props) {
  const set = (place: number, part: Partial<BayRung>) =>
    onChange(rungs.map((r, n) => (n === place ? { ...r, ...part } : r)));
  const move = (place: number, by: number) => {
    const next = [...rungs];
    const [taken] = next.splice(place, 1);
    if (taken) next.splice(place + by, 0, taken);
    onChange(next);
  };
  const own = () => {
    const goal = rungs[0];
    if (!goal) return;
    const made: BayRung = {
      ...goal,
      title: `Easier ${goal.title.charAt(0).toLowerCase()}${goal.title.slice(1)}`.slice(0, 120),
      way: "own",
      said: "your own",
      at: null,
    };
    onChange([goal, made, ...rungs.slice(1)]);
  };
  return (
    <section aria-label="The bay">
      <ol className="border-x-[9px] border-darkwood px-2 py-2">
        {rungs.map((rung, place) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: two steps may be called alike, and a place is a step's own
          <Fragment key={place}>
            <Rung
              rung={rung}
              place={place}
              last={rungs.length - 1}
              unit={measures[rung.gate.measure] ?? ""}
              onSet={(part) => set(place, part)}
              onMove={(by) => move(place, by)}
            />
            {tooBig.some((big) => big.upper === place) && (
              <li className="ml-3 border-l-2 border-blue py-1 pl-3 text-sm text-blue">too big a step</li>
            )}
          </Fragment>
        ))}
      </ol>
      <Button className="mt-3" onClick={own}>
        Put in one of your own
      </Button>
    </section>
  );
}

interface RungProps {
  rung: BayRung;
  place: number;
  last: number;
  unit: string;
  onSet: (part: Partial<BayRung>) => void;
  onMove: (by: number) => void;
}

function Rung({ rung, place, last, unit, onSet, onMove }: RungProps) {
  const goal = place === 0;
  const fixed = rung.drill !== null;
  return (
    <li className="px-1 pt-1.5 pb-2">
      <div className="flex flex-wrap items-center gap-x-2">
        {fixed ? (
          <span className={`min-w-48 flex-1 font-bold ${rung.kept ? "" : "text-soft"}`}>{rung.title}</span>
        ) : (
          <input
            aria-label={`Name of step ${place + 1}`}
            defaultValue={rung.title}
            key={rung.title}
            maxLength={120}
            className={`min-w-48 flex-1 border-b border-transparent bg-transparent font-bold hover:border-rule ${rung.kept ? "" : "text-soft"}`}
            onBlur={(event) => {
              const title = event.target.value.trim();
              if (title && title !== rung.title) onSet({ title });
            }}
          />
        )}
        {!fixed && (
          <label className="text-sm text-soft">
            <span className="sr-only">
              {unit} of step {place + 1}
            </span>
            <input
              type="number"
              step="any"
              min={0}
              key={rung.gate.value}
              defaultValue={rung.gate.value}
              className="w-14 border-b border-rule bg-transparent text-right text-ink"
              onBlur={(event) => {
                const value = Number(event.target.value);
                if (event.target.value !== "" && value !== rung.gate.value)
                  onSet({ gate: { ...rung.gate, value, origin: "ours" } });
              }}
            />{" "}
            {unit.toLowerCase()}
          </label>
        )}
        <span className="text-sm text-soft">{rung.said}</span>
        <span className="flex">
          <Arrow words={`Move step ${place + 1} up`} sign="↑" off={place < 2} onPress={() => onMove(-1)} />
          <Arrow
            words={`Move step ${place + 1} down`}
            sign="↓"
            off={goal || place === last}
            onPress={() => onMove(1)}
          />
        </span>
      </div>
      <button
        type="button"
        aria-pressed={rung.kept}
        disabled={goal}
        aria-label={`Step ${place + 1}, ${rung.title}: ${rung.kept ? "in" : "left out"}`}
        onClick={() => onSet({ kept: !rung.kept })}
        className={`block h-3.5 w-full ${rung.kept ? "border border-darkwood bg-wood" : "border border-dashed border-darkwood"}`}
      />
    </li>
  );
}

interface ArrowProps {
  words: string;
  sign: string;
  off: boolean;
  onPress: () => void;
}

function Arrow({ words, sign, off, onPress }: ArrowProps) {
  return (
    <button
      type="button"
      aria-label={words}
      disabled={off}
      onClick={onPress}
      className="min-h-8 min-w-8 text-soft hover:text-ink disabled:opacity-25"
    >
      {sign}
    </button>
  );
}
