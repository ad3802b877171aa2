import { Fragment } from "react";
import type { BayLook, BayRung, DrawnDrill, Line } from "../../api/client";
import { DrillPicture } from "../../drawings/DrillPicture";
import { Button } from "../../parts/Button";
import { DrillOptions } from "./DrillOptions";

interface Props {
  rungs: BayRung[];
  units: Record<string, string>;
  lines: Line[];
  tooBig: BayLook["too_big"];
  drawings: BayLook["drawings"];
  onChange: (rungs: BayRung[]) => void;
}

/** The bay from the goal down: what is kept is wood, what is only proposed is a pale lath. */
export function BayOfRungs({ rungs, units, lines, tooBig, drawings, onChange }: Props) {
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
  const there = (name: string) => {
    const line = lines.find((l) => l.rungs.flat().some((d) => d.drill === name));
    const drill = line?.rungs.flat().find((d) => d.drill === name);
    if (!line || !drill) return;
    const said = `have it: ${line.title.toLowerCase()}`;
    const made: BayRung = {
      title: drill.title,
      gate: drill.gate,
      way: "own",
      said,
      at: null,
      drill: name,
      kept: true,
    };
    onChange([...rungs.slice(0, 1), made, ...rungs.slice(1)]);
  };
  return (
    <section aria-label="The bay">
      <p className="mb-2 text-sm text-soft">
        Wood is in. Tap a lath to take it in or leave it out. Names and figures are yours to change.
      </p>
      <ol className="border-x-[9px] border-darkwood px-2 py-2">
        {rungs.map((rung, place) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: two steps may be called alike, and a place is a step's own
          <Fragment key={place}>
            <Rung
              rung={rung}
              drawn={drawings.find((d) => d?.title === rung.title) ?? null}
              place={place}
              last={rungs.length - 1}
              unit={rung.gate.of === null ? (units[rung.gate.measure] ?? "") : `of ${rung.gate.of}`}
              onSet={(part) => set(place, part)}
              onMove={(by) => move(place, by)}
            />
            {tooBig.some((big) => big.upper === place) && (
              <li className="ml-3 border-l-2 border-blue py-1 pl-3 text-sm text-blue">too big a step</li>
            )}
          </Fragment>
        ))}
      </ol>
      <div className="mt-3 flex flex-wrap items-center gap-3">
        <Button onClick={own}>Put in one of your own</Button>
        <select
          aria-label="Put in a drill that is there"
          className="field w-auto max-w-full"
          value=""
          onChange={(event) => there(event.target.value)}
        >
          <option value="">Put in a drill that is there</option>
          <DrillOptions lines={lines} without={rungs.map((r) => r.drill)} />
        </select>
      </div>
    </section>
  );
}

interface RungProps {
  rung: BayRung;
  drawn: DrawnDrill | null;
  place: number;
  last: number;
  unit: string;
  onSet: (part: Partial<BayRung>) => void;
  onMove: (by: number) => void;
}

function Rung({ rung, drawn, place, last, unit, onSet, onMove }: RungProps) {
  const goal = place === 0;
  const fixed = rung.drill !== null;
  return (
    <li className="px-1">
      <div className="grid grid-cols-[4.5rem_1fr_auto] items-center gap-x-3 sm:grid-cols-[4.5rem_1fr_auto_9.5rem_4rem]">
        <span className={`h-14 ${rung.kept ? "" : "opacity-50"}`}>
          {drawn && <DrillPicture drawn={drawn} size="h-14" />}
        </span>
        {fixed ? (
          <span className={`font-bold ${rung.kept ? "" : "text-soft"}`}>{rung.title}</span>
        ) : (
          <textarea
            rows={1}
            aria-label={`Name of step ${place + 1}`}
            defaultValue={rung.title}
            key={rung.title}
            maxLength={120}
            className={`min-w-0 resize-none field-sizing-content border-b border-transparent bg-transparent font-bold hover:border-rule ${rung.kept ? "" : "text-soft"}`}
            onBlur={(event) => {
              const title = event.target.value.trim();
              if (title && title !== rung.title) onSet({ title });
            }}
          />
        )}
        {fixed ? (
          <span />
        ) : (
          <label className="text-sm text-soft">
            <input
              type="number"
              aria-label={`${unit} of step ${place + 1}`}
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
            {unit}
          </label>
        )}
        <span className="text-sm text-soft">{rung.said}</span>
        <span className={rung.way === "base" ? "invisible" : "flex justify-end max-sm:-my-1"}>
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
        className="block min-h-7 w-full py-1.5"
      >
        <span
          aria-hidden="true"
          className={`block h-3.5 border border-darkwood ${rung.kept ? "bg-wood" : "border-dashed"}`}
        />
      </button>
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
