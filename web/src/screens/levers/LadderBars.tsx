import type { LadderPage } from "../../api/client";

interface Props {
  page: LadderPage;
  busy: boolean;
  /** Where the dial stands. */
  setting: number;
  unit: string;
  onPick: (setting: number) => void;
}

/** The ladder of settings, the hardest at the top like the wall bars: how much is solid says the value, the clip where the dial stands. */
export function LadderBars({ page, busy, setting, unit, onPick }: Props) {
  const { steps } = page.ladder;
  if (!steps.length) return <p className="text-soft">No setting to climb: {page.ladder.because}.</p>;
  const values = steps.map((s) => s.value);
  const [low, high] = [
    Math.min(...values, page.full ?? Number.POSITIVE_INFINITY),
    Math.max(...values, page.full ?? 0),
  ];
  // the shortest bar still shows that it is a bar
  const part = (value: number) => (high === low ? 1 : (value - low) / (high - low));
  // where less of it is harder, the bar still fills with how hard it is
  const falls = (values[0] ?? 0) > (values.at(-1) ?? 0);
  const filled = (value: number) => 12 + 88 * (falls ? 1 - part(value) : part(value));
  const here = steps.reduce(
    (best, s, n) =>
      Math.abs(s.setting - setting) < Math.abs((steps[best]?.setting ?? 0) - setting) ? n : best,
    0,
  );
  const rows = steps.map((step, n) => ({ step, words: page.words[n], n })).reverse();
  const full = page.full;
  return (
    <ol
      aria-label={page.title}
      aria-busy={busy}
      className={`border-x-[7px] border-darkwood ${busy ? "opacity-40" : ""}`}
    >
      {rows.map(({ step, words, n }, place) => (
        <li key={step.setting}>
          {full !== null && step.value < full && (rows[place - 1]?.step.value ?? full) >= full && (
            <p className="border-b border-dashed border-ink px-2 pt-1 text-sm font-bold">
              {page.full_title} {Math.round(full * 100)} %
            </p>
          )}
          <button
            type="button"
            onClick={() => onPick(step.setting)}
            aria-current={n === here}
            className={`relative block w-full px-2 pb-1 pt-1 text-left hover:bg-tint ${n === here ? "text-blue" : ""}`}
          >
            <span className="flex justify-between gap-2 pl-2">
              <span className={n === here ? "font-bold" : ""}>
                {words?.setting}
                {n === here && step.setting !== setting && (
                  <span className="font-normal">
                    {" "}
                    (now {setting} {unit})
                  </span>
                )}
                {step.next && <b className="ml-2 text-sm text-blue">now</b>}
                {step.tested && <span className="ml-2 text-sm text-soft">tested</span>}
              </span>
              <b>{words?.value}</b>
            </span>
            <span className="relative ml-1 mt-0.5 block h-2.5 border border-wood bg-sheet">
              {n === here && (
                <span aria-hidden="true" className="absolute -left-6 -top-2 h-6 w-5 rounded-sm bg-blue" />
              )}
              <span
                className={`block h-full ${n === here ? "bg-blue" : "bg-wood"}`}
                style={{ width: `${filled(step.value)}%` }}
              />
            </span>
            {(step.stack || words?.in_body) && (step.next || n === here) && (
              <span className="block pl-2 text-sm text-soft">
                {[words?.in_body, step.stack].filter(Boolean).join(" · ")}
              </span>
            )}
          </button>
        </li>
      ))}
    </ol>
  );
}
