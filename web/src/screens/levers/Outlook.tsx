import type { FirstRep, LeversPage } from "../../api/client";

interface Props {
  page: LeversPage;
  onPick: (drill: string) => void;
}

/** How near first reps are, and where the next drill is a jump: estimates, never gates. */
export function Outlook({ page, onPick }: Props) {
  const jumps = page.jumps.slice(0, 3);
  if (!page.outlooks.length && !jumps.length) return null;
  const title = (drill: string) => page.drills.find((d) => d.drill === drill)?.title ?? drill;
  return (
    <div className="mt-8 grid gap-x-10 gap-y-6 border-t border-rule pt-4 lg:grid-cols-2">
      {page.outlooks.length > 0 && (
        <section aria-label="First rep">
          <h2 className="mb-2 text-xl">How near a first rep is</h2>
          {page.outlooks.map((o) => (
            <One key={o.goal} outlook={o} />
          ))}
        </section>
      )}
      {jumps.length > 0 && (
        <section aria-label="Jumps in share">
          <h2 className="mb-2 text-xl">Where the next drill is a jump</h2>
          <ul className="space-y-3">
            {jumps.map((j) => (
              <li key={j.lower + j.upper}>
                <p>{j.sentence}</p>
                {j.between.length > 0 && (
                  <p className="text-sm text-soft">
                    In between:{" "}
                    {j.between.map((b, n) => (
                      <span key={b.words}>
                        {n > 0 && "; "}
                        {b.words} ({Math.round(b.share * 100)} %)
                      </span>
                    ))}
                    .{" "}
                    <button type="button" className="underline" onClick={() => onPick(j.lower)}>
                      Set up {title(j.lower).toLowerCase()}
                    </button>
                  </p>
                )}
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

function One({ outlook }: { outlook: FirstRep }) {
  const { low, high, needed } = outlook;
  const end = Math.max(high, needed) * 1.05;
  const x = (value: number) => `${(100 * Math.max(0, value)) / end}%`;
  return (
    <article className="mb-5">
      <h3 className="text-lg">{outlook.title}</h3>
      <div aria-hidden="true" className="relative my-1.5 h-7 border border-wood bg-sheet">
        <span
          className="absolute inset-y-0 bg-wood"
          style={{ left: x(low), width: `calc(${x(high)} - ${x(low)})` }}
        />
        <span className="absolute -inset-y-1 w-1 bg-ink" style={{ left: x(needed) }} />
      </div>
      <p>
        {outlook.sentence}{" "}
        <b>
          {outlook.reached === true ? "Within reach." : outlook.reached === null ? "Perhaps." : "Not yet."}
        </b>
      </p>
      <ul className="ml-5 list-disc text-sm">
        {outlook.gains.map((gain) => (
          <li key={gain}>{gain}</li>
        ))}
      </ul>
      <p className="text-sm text-soft">
        {outlook.model}; {outlook.sources.join("; ")}. An estimate, never a gate.
      </p>
    </article>
  );
}
