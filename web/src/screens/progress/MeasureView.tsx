import { useRef } from "react";
import type { MeasureStory, ProgressPage } from "../../api/client";
import { useMeasure } from "../../api/progress";
import { LimitStairs } from "../../drawings/LimitStairs";
import { MeasurePicture } from "../../drawings/MeasurePicture";
import { Problem, Waiting } from "../../parts/Message";
import { saveDrawing } from "../../parts/saveDrawing";
import { dayMonth } from "../../parts/words";

interface Props {
  page: ProgressPage;
  drill: string;
  way: string;
  onDrill: (drill: string) => void;
  onWay: (way: string) => void;
}

/** One measure: what it says in a sentence, and its picture. */
export function MeasureView({ page, drill, way, onDrill, onWay }: Props) {
  const measure = useMeasure(page.trainee.id, drill, way ? { way } : {});
  const box = useRef<HTMLDivElement>(null);
  if (!drill)
    return (
      <section aria-label="The measure">
        <h1 className="text-[2.125rem] leading-tight">Nothing measured yet.</h1>
        <p>
          {page.trainee.name}'s first sets or tests begin the picture. An open set says more than one done as
          asked.
        </p>
      </section>
    );
  if (measure.isPending) return <Waiting />;
  if (!measure.data) return <Problem error={measure.error} />;
  const story = measure.data;
  const words = story.ways.find((w) => w.key === story.way)?.words ?? "";
  return (
    <section aria-label="The measure" ref={box}>
      <p className="text-soft">
        {page.trainee.name} · {story.title}
        {words && ` · ${words}`}
      </p>
      <h1 className="text-[2.125rem] leading-tight">{story.headline}</h1>
      <p className="max-w-3xl">
        {story.sentence} <span className="text-sm text-soft">{story.model}</span>
      </p>
      <MeasurePicture story={story} on={page.on} label={`${story.title}, ${words}`} />
      <p className="flex flex-wrap gap-x-4 text-sm text-soft">
        {story.level_words && <b className="text-blue">{story.level_words}</b>}
        <span>light: sets</span>
        {story.points.some((p) => p.by === "test") && <span>dark: tests</span>}
        {story.points.some((p) => p.bound) && <span>open at the top: at least so much</span>}
        {story.points.some((p) => p.by === "self") && <span>hatched: told alone</span>}
        {story.rays.length > 0 && <span>rays: where a day may lie, four times in five</span>}
      </p>
      <div className="mt-2 flex flex-wrap items-center gap-x-5 gap-y-2 print:hidden">
        <label className="flex items-center gap-2">
          <span className="text-soft">Measure</span>
          <select className="field max-w-64" value={drill} onChange={(event) => onDrill(event.target.value)}>
            {page.drills.map((d) => (
              <option key={d.drill} value={d.drill}>
                {d.title}
              </option>
            ))}
          </select>
        </label>
        {story.ways.length > 1 && (
          <label className="flex items-center gap-2">
            <span className="text-soft">Measured as</span>
            <select
              className="field max-w-64"
              value={story.way}
              onChange={(event) => onWay(event.target.value)}
            >
              {story.ways.map((w) => (
                <option key={w.key} value={w.key}>
                  {w.words}
                </option>
              ))}
            </select>
          </label>
        )}
        <button
          type="button"
          className="min-h-11 underline"
          onClick={() => saveDrawing(box.current, `${story.drill}.svg`)}
        >
          Save the drawing
        </button>
      </div>
      {story.limits.length > 1 && (
        <figure className="mt-2">
          <figcaption className="text-sm text-soft">{story.dial_words}</figcaption>
          <LimitStairs story={story} />
        </figure>
      )}
      <Readings story={story} />
    </section>
  );
}

/** The same as a table, for eyes that read figures better. */
function Readings({ story }: { story: MeasureStory }) {
  const weeks = Object.entries(story.chances);
  return (
    <details className="mt-1">
      <summary className="min-h-6 cursor-pointer text-soft">As a table</summary>
      <div className="grid gap-x-10 gap-y-3 sm:grid-cols-2">
        <table className="self-start text-left text-sm tabular-nums">
          <caption className="text-left text-soft">Readings, the newest first</caption>
          <tbody>
            {[...story.points].reverse().map((p, n) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a day may have a value and a bound
              <tr key={n} className="border-t border-rule">
                <th scope="row" className="pr-4 font-normal">
                  {dayMonth(p.day)}
                </th>
                <td className="pr-4">
                  {p.bound && "at least "}
                  {p.said}
                </td>
                <td className="text-soft">
                  {[
                    p.by === "test" ? "test" : p.by === "self" ? "told alone" : "",
                    p.clean ? "" : "not clean",
                  ]
                    .filter(Boolean)
                    .join(", ")}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        <div className="text-sm">
          {weeks.length > 0 && (
            <table className="text-left tabular-nums">
              <caption className="text-left text-soft">The chance of the gate</caption>
              <thead className="text-soft">
                <tr>
                  <th scope="col" className="pr-4 font-normal">
                    Within
                  </th>
                  <th scope="col" className="pr-4 font-normal">
                    once
                  </th>
                  <th scope="col" className="font-normal">
                    on two days
                  </th>
                </tr>
              </thead>
              <tbody>
                {weeks.map(([week, chance]) => (
                  <tr key={week} className="border-t border-rule">
                    <th scope="row" className="pr-4 font-normal">
                      {week} weeks
                    </th>
                    <td className="pr-4">{chance?.said}</td>
                    <td>{story.twice[week]?.said}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {story.limits.length > 0 && (
            <table className="mt-3 text-left tabular-nums">
              <caption className="text-left text-soft">{story.dial_words}</caption>
              <tbody>
                {[...story.limits].reverse().map((l) => (
                  <tr key={l.day} className="border-t border-rule">
                    <th scope="row" className="pr-4 font-normal">
                      {dayMonth(l.day)}
                    </th>
                    <td>{l.said}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          {story.events.length > 0 && (
            <ul className="mt-3">
              {story.events.map((e) => (
                <li key={`${e.day} ${e.words}`} className="border-t border-rule">
                  {dayMonth(e.day)}
                  {e.until && ` to ${dayMonth(e.until)}`}: {e.words}
                </li>
              ))}
            </ul>
          )}
        </div>
      </div>
    </details>
  );
}
