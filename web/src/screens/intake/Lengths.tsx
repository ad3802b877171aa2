import type { IntakePage } from "../../api/client";

interface LengthsProps {
  lengths: IntakePage["lengths"];
  typed: Record<string, string>;
  onSet: (lengths: Record<string, string>) => void;
}

/** The body's lengths: measured where somebody took them, else estimated from stature and marked so. */
export function Lengths({ lengths, typed, onSet }: LengthsProps) {
  if (!lengths.length)
    return (
      <p className="text-sm text-soft">
        Other lengths are estimated from stature until somebody measures them.
      </p>
    );
  return (
    <ul>
      {lengths.map((length) => (
        <li key={length.length} className="border-b border-rule py-1.5">
          <label className="flex items-center gap-3">
            <span className="grow">
              {length.title}
              <span className="block text-sm text-soft">
                {length.estimated ? `estimated: ${length.cm} cm` : "measured"}
              </span>
            </span>
            <input
              type="number"
              step="0.1"
              className="field max-w-28"
              placeholder={length.estimated ? `≈ ${length.cm}` : undefined}
              title={length.how}
              value={typed[length.length] ?? ""}
              onChange={(event) => onSet({ ...typed, [length.length]: event.target.value })}
            />
            <span className="text-soft">cm</span>
          </label>
          {length.doubt && <p className="text-sm text-brick">{length.doubt}</p>}
        </li>
      ))}
      <li className="pt-1 text-sm text-soft">{lengths.find((l) => l.estimated)?.source}</li>
    </ul>
  );
}
