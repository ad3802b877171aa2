interface TicksProps {
  items: [string, string][];
  chosen: string[];
  onToggle: (name: string) => void;
}

/** Any of a few, the first one picked leading where more are. */
export function Ticks({ items, chosen, onToggle }: TicksProps) {
  return (
    <ul className="grid gap-x-6 sm:grid-cols-2">
      {items.map(([name, title]) => (
        <li key={name}>
          <label className="flex min-h-11 cursor-pointer items-center gap-3">
            <input
              type="checkbox"
              className="h-5 w-5 shrink-0 accent-blue"
              checked={chosen.includes(name)}
              onChange={() => onToggle(name)}
            />
            {title}
            {chosen.indexOf(name) === 0 && chosen.length > 1 && items.some(([n]) => n === chosen[1]) && (
              <span className="text-sm text-soft">first</span>
            )}
          </label>
        </li>
      ))}
    </ul>
  );
}
