import type { Line } from "../../api/client";

interface Props {
  lines: Line[];
  /** Drills that are not offered. */
  without?: readonly (string | null)[];
}

/** The drills in use, line by line, as what a list offers. */
export function DrillOptions({ lines, without = [] }: Props) {
  return lines.map((line) => (
    <optgroup key={line.line} label={line.title}>
      {line.rungs
        .flat()
        .filter((d) => !d.retired && !without.includes(d.drill))
        .map((d) => (
          <option key={d.drill} value={d.drill}>
            {d.title}
          </option>
        ))}
    </optgroup>
  ));
}
