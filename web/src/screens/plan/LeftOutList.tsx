import { useState } from "react";
import type { PlanPage } from "../../api/client";

const SHOWN = 5;

/** What is not in the week and why; what is open may be put in by hand. */
export function LeftOutList({ page, onPin }: { page: PlanPage; onPin: (drill: string) => void }) {
  const [whole, showWhole] = useState(false);
  const left = page.planned?.left_out ?? [];
  const open = new Set(page.to_pin.map((d) => d.drill));
  const inWeek = new Set(page.planned?.days.flatMap((d) => d.blocks.map((b) => b.drill)));
  const others = page.to_pin.filter((d) => !inWeek.has(d.drill));
  return (
    <section aria-label="Left out, and why">
      <h2 className="text-lg">Left out, and why</h2>
      {left.length === 0 && <p className="text-soft">Nothing that is on the way.</p>}
      <ul className="grid gap-1">
        {(whole ? left : left.slice(0, SHOWN)).map((x) => (
          <li key={`${x.drill} ${x.title}`} className="text-[0.9375rem]">
            <b>{x.title}.</b> {x.because}{" "}
            {open.has(x.drill) && (
              <button type="button" className="underline" onClick={() => onPin(x.drill)}>
                Put {x.title.toLowerCase()} in
              </button>
            )}
          </li>
        ))}
      </ul>
      {left.length > SHOWN && (
        <button type="button" className="min-h-11 underline" onClick={() => showWhole(!whole)}>
          {whole ? "Fewer" : `All ${left.length}`}
        </button>
      )}
      {others.length > 0 && (
        <label className="mt-2 block text-sm">
          Put another open drill in
          <select
            className="field max-w-sm"
            value=""
            onChange={(event) => event.target.value && onPin(event.target.value)}
          >
            <option value="">which one?</option>
            {others.map((d) => (
              <option key={d.drill} value={d.drill}>
                {d.title}
              </option>
            ))}
          </select>
        </label>
      )}
    </section>
  );
}
