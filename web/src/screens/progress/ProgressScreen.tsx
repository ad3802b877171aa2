import { Link, useParams, useSearchParams } from "react-router";
import type { ProgressPage } from "../../api/client";
import { useProgress } from "../../api/progress";
import { LoadPicture } from "../../drawings/LoadPicture";
import { SmallMultiple } from "../../drawings/SmallMultiple";
import { buttonLook } from "../../parts/Button";
import { Drawing } from "../../parts/Drawing";
import { Heads } from "../../parts/Heads";
import { Problem, Waiting } from "../../parts/Message";
import { dayMonth } from "../../parts/words";
import { Outlines } from "../line/Outlines";
import { MeasureView } from "./MeasureView";
import { RoadView } from "./RoadView";
import { SinceCard } from "./SinceCard";
import { Strips } from "./Strips";
import { Told } from "./Told";

/** The long view of one trainee: is it working, when will it be there, what should change. */
export function ProgressScreen() {
  const { id = "" } = useParams();
  const [search, setSearch] = useSearchParams();
  const page = useProgress(id, search.get("goal") ?? "");
  if (page.isPending) return <Waiting />;
  if (!page.data) return <Problem error={page.error} />;
  const { data } = page;
  const set = (changes: Record<string, string>) => {
    const next = new URLSearchParams(search);
    for (const [name, value] of Object.entries(changes)) {
      if (value) next.set(name, value);
      else next.delete(name);
    }
    setSearch(next, { replace: true });
  };
  const known = data.drills.some((d) => d.drill === search.get("drill"));
  const drill = known ? (search.get("drill") ?? "") : data.drill;
  return (
    <>
      {page.error && <Problem error={page.error} />}
      <div className="grid grid-cols-[minmax(0,1fr)] gap-x-12 gap-y-6 lg:grid-cols-[minmax(0,1fr)_25rem]">
        <MeasureView
          page={data}
          drill={drill}
          way={search.get("way") ?? ""}
          onDrill={(name) => set({ drill: name, way: "" })}
          onWay={(way) => set({ way })}
        />
        <Leads
          page={data}
          drill={drill}
          onGoal={(goal) => set({ goal, drill: "", way: "" })}
          onDrill={(name) => set({ drill: name, way: "" })}
        />
      </div>
      <div className="mt-6">
        <Outlines trainee={id} drills={[drill]} most={6} heading="Its line, then and now" />
      </div>
      <Told page={data} />
      <div className="mt-8 grid grid-cols-[minmax(0,1fr)] gap-x-12 gap-y-8 border-t border-rule pt-5 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
        {data.road && <RoadView road={data.road} />}
        <Load page={data} />
        <Strips trainee={id} />
        <div>
          <SinceCard name={data.trainee.name} card={data.card} />
          <p className="mt-4 flex flex-wrap gap-3 print:hidden">
            <Link to={`/trainees/${id}/report`} className={buttonLook("act")}>
              Report to print
            </Link>
            <Link to={`/trainees/${id}/progress/compare?drill=${drill}`} className={buttonLook("plain")}>
              Side by side
            </Link>
            <a href={`/api/trainees/${id}/progress.csv`} className={buttonLook("plain")}>
              All measures as CSV
            </a>
          </p>
        </div>
      </div>
    </>
  );
}

interface LeadsProps {
  page: ProgressPage;
  drill: string;
  onGoal: (goal: string) => void;
  onDrill: (drill: string) => void;
}

/** What leads to the goal, each measure as a share of its own gate. */
function Leads({ page, drill, onGoal, onDrill }: LeadsProps) {
  return (
    <section aria-label="What leads to it">
      {page.goals.length > 1 && (
        <p className="mb-2 flex flex-wrap gap-x-4 gap-y-1 text-sm text-soft">
          {page.goals.map((g) => (
            <button
              key={g.goal}
              type="button"
              aria-pressed={g.goal === page.road?.goal}
              onClick={() => onGoal(g.goal)}
              className={`min-h-6 ${g.goal === page.road?.goal ? "font-bold text-ink" : "underline"}`}
            >
              {g.title}
            </button>
          ))}
        </p>
      )}
      <h2 className="text-xl">What leads to it</h2>
      {page.small.length === 0 && (
        <p className="mt-1 text-soft">
          {page.road?.reached
            ? "The goal is reached."
            : page.road
              ? "Nothing on the way was recorded yet."
              : "No goal is chosen."}
        </p>
      )}
      <ul>
        {page.small.map((m) => (
          <li key={m.drill} className="border-b border-rule">
            <button
              type="button"
              aria-pressed={m.drill === drill}
              onClick={() => onDrill(m.drill)}
              className={`grid w-full grid-cols-[1fr_auto] items-center gap-x-4 py-2 text-left hover:bg-tint ${m.drill === drill ? "border-l-4 border-blue pl-2.5" : "pl-0"}`}
            >
              <span>
                <span className="block font-head text-[1.0625rem] font-bold leading-tight">{m.title}</span>
                <span className="block text-sm text-soft">{m.figure}</span>
                <span className={`block text-sm ${m.moves.startsWith("moves") ? "text-blue" : "text-soft"}`}>
                  {m.moves}
                </span>
              </span>
              <SmallMultiple measure={m} />
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

const SUPPORT = { surface: "Feet on something", wall: "At the wall", free: "Hands alone" } as const;
const minutes = (s: number) => (s < 60 ? `${Math.round(s)} s` : `${Math.round(s / 60)} min`);

/** What the hands carried, week by week, with pain in the same picture. */
function Load({ page }: { page: ProgressPage }) {
  return (
    <section aria-label="Load">
      <h2 className="text-xl">Load and pain</h2>
      <p className="mb-2">{page.load_said}</p>
      <p className="mb-1 flex flex-wrap gap-x-4 text-sm text-soft">
        <Key colour="bg-darkwood" words="push" />
        <Key colour="bg-blue" words="press" />
        <Key colour="bg-wood" words="all else on the hands" />
        <span>dashed: the ramp</span>
        {page.weeks.some((w) => w.pain) && (
          <span className="text-brick">circle: the worst pain told, of 10</span>
        )}
      </p>
      <Drawing name="load">
        <LoadPicture weeks={page.weeks} said={page.load_said} />
      </Drawing>
      <details className="mt-1">
        <summary className="min-h-6 cursor-pointer text-soft">Week by week, and time on the hands</summary>
        <div className="overflow-x-auto">
          <table className="w-full text-left text-sm tabular-nums">
            <Heads words={["Week of", "Load", "Push", "Press", "Ramp", ...Object.values(SUPPORT), "Pain"]} />
            <tbody>
              {page.weeks.map((w) => (
                <tr key={w.week} className="border-t border-rule">
                  <th scope="row" className="py-0.5 pr-3 font-normal">
                    {dayMonth(w.week)}
                  </th>
                  <td className="pr-3">{Math.round(w.load_s)} s</td>
                  <td className="pr-3">{Math.round(w.push_s)} s</td>
                  <td className="pr-3">{Math.round(w.press_s)} s</td>
                  <td className={w.beyond ? "pr-3 font-bold text-brick" : "pr-3"}>
                    {w.most_s === null ? "–" : `${Math.round(w.most_s)} s`}
                  </td>
                  {(Object.keys(SUPPORT) as (keyof typeof SUPPORT)[]).map((s) => (
                    <td key={s} className="pr-3">
                      {minutes(w.on_hands_s[s] ?? 0)}
                    </td>
                  ))}
                  <td>{w.pain ? `${w.joint} ${w.pain}` : ""}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        <p className="mt-1 text-sm text-soft">
          Load: seconds of whole body weight on the hands, by this trainee's own size. A coach's arithmetic,
          not medical advice.
        </p>
      </details>
    </section>
  );
}

function Key({ colour, words }: { colour: string; words: string }) {
  return (
    <span className="inline-flex items-center gap-1.5">
      <span className={`inline-block size-3 ${colour}`} aria-hidden="true" />
      {words}
    </span>
  );
}
