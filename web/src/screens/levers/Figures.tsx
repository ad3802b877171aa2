import { useState } from "react";
import type { FigureNote, FigureShown, LeversPage, Position } from "../../api/client";
import { Sheet } from "../../parts/Sheet";

interface Props {
  figures: FigureShown[];
  beside?: { name: string; figures: FigureShown[] } | undefined;
  notes: LeversPage["figures"];
  size: LeversPage["size"];
  position: Position;
  knobs: { knob: string; title: string; unit: string }[];
  /** No figure is louder than the others. */
  small?: boolean;
}

/** The figures of a position. Each opens its formula, what went into it, and its source. */
export function Figures({ figures, beside, notes, size, position, knobs, small = false }: Props) {
  const [opened, open] = useState<FigureShown | null>(null);
  const note: FigureNote | undefined = opened ? notes[opened.figure] : undefined;
  return (
    <>
      <ul className="flex flex-wrap gap-x-8 gap-y-2">
        {figures.map((f, n) => (
          <li key={f.figure}>
            <button type="button" className="text-left hover:bg-tint" onClick={() => open(f)}>
              <span className="block text-sm text-soft underline decoration-dotted">{f.title}</span>
              <span
                data-figure={f.figure}
                className={`font-head font-bold leading-tight ${small ? "text-lg" : n === 0 ? "text-4xl" : "text-2xl"}`}
              >
                {f.words}
              </span>
            </button>
            {beside && (
              <span className="block text-sm">
                {beside.name}:{" "}
                <b>{beside.figures.find((o) => o.figure === f.figure)?.words ?? "not possible"}</b>
              </span>
            )}
          </li>
        ))}
      </ul>
      <Sheet
        side
        open={opened !== null}
        onClose={() => open(null)}
        title={opened?.title ?? ""}
        about={opened?.words}
      >
        {note && (
          <dl className="space-y-3">
            <div>
              <dt className="text-sm text-soft">Formula</dt>
              <dd>{note.formula}</dd>
            </div>
            <div>
              <dt className="text-sm text-soft">From</dt>
              <dd>
                <ul>
                  {knobs.map((k) => (
                    <li key={k.knob}>
                      {k.title}: {position.settings[k.knob]} {k.unit === "deg" ? "°" : "cm"}
                    </li>
                  ))}
                  <li>Stature: {size.stature_cm} cm</li>
                  {note.needs_mass && <li>Mass: {size.mass_kg} kg; g = 9.81 m/s²</li>}
                  {size.lengths.map((l) => (
                    <li key={l.length}>
                      {l.title}: {l.cm} cm{l.estimated ? ", estimated from stature" : ", measured"}
                    </li>
                  ))}
                </ul>
              </dd>
            </div>
            <div>
              <dt className="text-sm text-soft">Source</dt>
              <dd>{note.source}</dd>
            </div>
            <div className="text-sm text-soft">
              <dt className="sr-only">What it is not</dt>
              <dd>
                A model of the body, not a measurement. It helps to choose a setting. It passes no gate.
              </dd>
            </div>
          </dl>
        )}
      </Sheet>
    </>
  );
}
