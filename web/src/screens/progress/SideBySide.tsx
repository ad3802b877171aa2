import { Link, useParams, useSearchParams } from "react-router";
import type { MeasureStory } from "../../api/client";
import { useTrainees } from "../../api/hooks";
import { useMeasure, useProgress } from "../../api/progress";
import { MeasurePicture } from "../../drawings/MeasurePicture";
import { Drawing } from "../../parts/Drawing";
import { Message, Problem, Waiting } from "../../parts/Message";
import { dayMonth, isoDay, shifted } from "../../parts/words";

const HALF_A_YEAR = 182;

/** Two trainees in one measure, or one trainee in two periods, on one scale. */
export function SideBySide() {
  const { id = "" } = useParams();
  const [search, setSearch] = useSearchParams();
  const page = useProgress(id, "");
  const trainees = useTrainees();
  const drill = search.get("drill") || page.data?.drill || "";
  const way = search.get("way") ?? "";
  const other = search.get("with") ?? "";
  const today = page.data?.on ?? isoDay(new Date());
  const first = page.data?.card.since ?? shifted(today, -HALF_A_YEAR);
  const split = search.get("split") ?? middle(first, today);
  const part = way ? { way } : {};
  const left = useMeasure(id, drill, other ? part : { ...part, on: split }, Boolean(page.data));
  const right = useMeasure(other || id, drill, other ? part : { ...part, since: split }, Boolean(page.data));
  if (page.isPending) return <Waiting />;
  if (!page.data) return <Problem error={page.error} />;
  const { trainee } = page.data;
  const set = (name: string, value: string) => {
    const next = new URLSearchParams(search);
    if (value) next.set(name, value);
    else next.delete(name);
    setSearch(next, { replace: true });
  };
  const otherName = trainees.data?.find((t) => t.id === other)?.name ?? "";
  const most = Math.max(0, ...[left.data, right.data].flatMap((s) => s?.points.map((p) => p.share) ?? []));
  const wrong = left.error ?? right.error;
  return (
    <>
      <p className="text-soft">
        <Link to={`/trainees/${id}/progress?drill=${drill}`} className="underline">
          Progress of {trainee.name}
        </Link>
      </p>
      <h1 className="text-[2.125rem] leading-tight">
        {other ? `${trainee.name} and ${otherName}` : `${trainee.name}, before and since ${dayMonth(split)}`}
      </h1>
      <div className="my-3 flex flex-wrap gap-x-6 gap-y-2">
        <label className="flex items-center gap-2">
          <span className="text-soft">Measure</span>
          <select
            className="field max-w-64"
            value={drill}
            onChange={(event) => set("drill", event.target.value)}
          >
            {page.data.drills.map((d) => (
              <option key={d.drill} value={d.drill}>
                {d.title}
              </option>
            ))}
          </select>
        </label>
        <label className="flex items-center gap-2">
          <span className="text-soft">Beside</span>
          <select
            className="field max-w-64"
            value={other}
            onChange={(event) => set("with", event.target.value)}
          >
            <option value="">an earlier time of their own</option>
            {trainees.data
              ?.filter((t) => t.id !== id)
              .map((t) => (
                <option key={t.id} value={t.id}>
                  {t.name}
                </option>
              ))}
          </select>
        </label>
        {!other && (
          <label className="flex items-center gap-2">
            <span className="text-soft">Split on</span>
            <input
              type="date"
              className="field"
              value={split}
              min={first}
              max={today}
              onChange={(event) => event.target.value && set("split", event.target.value)}
            />
          </label>
        )}
      </div>
      {wrong && <Problem error={wrong} />}
      <div className="grid grid-cols-[minmax(0,1fr)] gap-x-10 gap-y-6 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
        <Panel
          story={left.data}
          title={other ? trainee.name : `Until ${dayMonth(split)}`}
          on={other ? today : split}
          most={most}
        />
        <Panel
          story={right.data}
          title={other ? otherName : `Since ${dayMonth(split)}`}
          on={today}
          most={most}
        />
      </div>
    </>
  );
}

interface PanelProps {
  story: MeasureStory | undefined;
  title: string;
  on: string;
  most: number;
}

function Panel({ story, title, on, most }: PanelProps) {
  return (
    <section aria-label={title}>
      <h2 className="text-xl">{title}</h2>
      {!story && <Waiting />}
      {story && story.points.length === 0 && (
        <Message>Nothing of {story.title.toLowerCase()} was recorded here.</Message>
      )}
      {story && story.points.length > 0 && (
        <>
          <p>
            <b>{story.headline}</b> {story.sentence}
          </p>
          <Drawing name={`${story.drill}, ${title}`}>
            <MeasurePicture story={story} on={on} most={most} height={320} label={title} />
          </Drawing>
          <p className="text-sm text-soft">
            {story.points.length} days{story.level_words && `, ${story.level_words}`}.
          </p>
        </>
      )}
    </section>
  );
}

/** The day in the middle of two. */
function middle(first: string, last: string) {
  const days = Math.round((Date.parse(last) - Date.parse(first)) / 86_400_000 / 2);
  return shifted(first, Math.max(1, days));
}
