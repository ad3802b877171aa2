import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type LeversPage, type Position } from "../../api/client";
import { type Settings, useAlong, useLadder, useLevers, usePosition } from "../../api/hooks";
import { Button } from "../../parts/Button";
import { Message, Problem, Waiting } from "../../parts/Message";
import { Compared } from "./Compared";
import { Dials } from "./Dials";
import { Drawn } from "./Drawn";
import { Figures } from "./Figures";
import { LadderBars } from "./LadderBars";
import { Outlook } from "./Outlook";
import { OverUnder } from "./OverUnder";

/** The trainee's own body against wall, box, floor and pads. */
export function Levers() {
  const { id = "" } = useParams();
  const page = useLevers(id);
  const [search, setSearch] = useSearchParams();
  if (page.isPending) return <Waiting />;
  if (!page.data) return <Problem error={page.error} />;
  const { size, drills, levers } = page.data;
  if (size.stature_cm === null || size.problem)
    return (
      <Message>
        {size.problem || "Everything here is worked out from the trainee's own size."}{" "}
        <Link to={`/trainees/${id}/measures`} className="underline">
          {size.problem ? "Put the measures right" : "Enter stature first"}
        </Link>
        .
      </Message>
    );
  const drill = drills.find((d) => d.drill === (search.get("drill") ?? page.data.first_drill)) ?? drills[0];
  const lever = levers.find((l) => l.lever === drill?.lever);
  if (!drill || !lever) return <Message>The syllabus has no drill that is worked out from a body.</Message>;
  const pick = (name: string) => setSearch({ drill: name }, { replace: true });
  return (
    <>
      <Head page={page.data} drill={drill.drill} onPick={pick} />
      {lever.shows_saves ? (
        <OverUnder page={page.data} lever={lever.lever} />
      ) : (
        <Setup key={`${id} ${drill.drill}`} page={page.data} drill={drill} lever={lever} />
      )}
      <Outlook page={page.data} onPick={pick} />
    </>
  );
}

function Head({ page, drill, onPick }: { page: LeversPage; drill: string; onPick: (drill: string) => void }) {
  const { size, trainee } = page;
  const estimated = size.lengths.filter((l) => l.estimated);
  return (
    <div className="mb-2 flex flex-wrap items-end gap-x-6 gap-y-2">
      <h1 className="sr-only">Levers for {trainee.name}</h1>
      <label className="max-w-full">
        <span className="block text-sm text-soft">Set up</span>
        <select
          className="field max-w-full font-head text-xl font-bold"
          value={drill}
          onChange={(event) => onPick(event.target.value)}
        >
          {page.levers
            .filter((l) => page.drills.some((d) => d.lever === l.lever))
            .map((l) => (
              <optgroup key={l.lever} label={l.title}>
                {page.drills
                  .filter((d) => d.lever === l.lever)
                  .map((d) => (
                    <option key={d.drill} value={d.drill}>
                      {d.title}
                    </option>
                  ))}
              </optgroup>
            ))}
        </select>
      </label>
      <p className="pb-2 text-sm text-soft">
        {size.stature_cm} cm, {size.mass_kg === null ? "mass not entered: no newtons" : `${size.mass_kg} kg`}{" "}
        ·{" "}
        {estimated.length === 0
          ? "all lengths measured"
          : estimated.length === size.lengths.length
            ? "lengths estimated from stature"
            : `${estimated.map((l) => l.title.toLowerCase()).join(", ")} estimated from stature`}{" "}
        ·{" "}
        <Link to={`/trainees/${trainee.id}/measures`} className="underline">
          Measures
        </Link>
      </p>
    </div>
  );
}

interface SetupProps {
  page: LeversPage;
  drill: LeversPage["drills"][number];
  lever: LeversPage["levers"][number];
}

function Setup({ page, drill, lever }: SetupProps) {
  const id = page.trainee.id;
  const [settings, setSettings] = useState<Settings>(drill.settings);
  const [view, setView] = useState(lever.views[0]?.view ?? "");
  const [beside, setBeside] = useState<{ name: string; position: Position | null }>();
  const [turned, setTurned] = useState("");
  useAlong(id, lever.lever, turned, settings);
  const position = usePosition(id, lever.lever, settings);
  const behind = position.isPlaceholderData;
  const dial = drill.dial?.name ?? "";
  const others = Object.fromEntries(Object.entries(settings).filter(([knob]) => knob !== dial));
  const ladder = useLadder(id, lever.lever, drill.drill, others, dial !== "" && lever.currency !== null);
  const set = (knob: string, value: number) => setSettings((before) => ({ ...before, [knob]: value }));
  if (!position.data) return position.error ? <Problem error={position.error} /> : <Waiting />;
  const answered = position.data;
  const seen = answered.views.find((v) => v.view === view) ?? answered.views[0];
  if (!seen) return null;
  const besideSeen = beside?.position?.views.find((v) => v.view === seen.view);
  const unit = drill.dial?.unit === "deg" ? "°" : "cm";
  return (
    <div className="grid gap-x-10 gap-y-6 grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_24rem]">
      <section className="relative" aria-label={lever.title} aria-busy={behind}>
        {position.error && <Problem error={position.error} />}
        <div style={{ opacity: behind ? 0.25 : 1 }}>
          <Drawn position={answered} seen={seen} beside={besideSeen} title={lever.title} />
        </div>
        {lever.views.length > 1 && (
          <p className="flex gap-2 sm:absolute sm:right-0 sm:top-0">
            {lever.views.map((v) => (
              <Button
                key={v.view}
                aria-pressed={v.view === seen.view}
                className={v.view === seen.view ? "border-blue bg-tint" : ""}
                onClick={() => setView(v.view)}
              >
                {v.title}
              </Button>
            ))}
          </p>
        )}
        <div
          className="mt-1 min-h-[4.75rem]"
          data-testid="figures"
          data-settings={JSON.stringify(answered.settings)}
          style={{ visibility: behind ? "hidden" : "visible" }}
        >
          {seen.because ? (
            <p className="border-l-4 border-ink bg-sheet px-4 py-2">
              <b>Not possible for {page.trainee.name}:</b> {seen.because}.
            </p>
          ) : (
            <Figures
              figures={seen.figures}
              beside={beside && { name: beside.name, figures: besideSeen?.figures ?? [] }}
              notes={page.figures}
              size={page.size}
              position={answered}
              knobs={lever.knobs}
            />
          )}
        </div>
        <div className="mt-1">
          <Dials knobs={lever.knobs} settings={settings} onSet={set} onTouch={setTurned} />
        </div>
        {lever.cautions.length > 0 && <p className="mt-1 text-sm text-brick">{lever.cautions.join(" ")}</p>}
      </section>
      <div>
        {lever.currency && dial && (
          <SettingLadder
            title={lever.currency.title}
            ladder={ladder}
            setting={answered.settings[dial] ?? 0}
            unit={unit}
            onPick={(value) => set(dial, value)}
          />
        )}
        <UseSetting
          page={page}
          drill={drill}
          settings={answered.settings}
          possible={!answered.views[0]?.because}
        />
        <Compared
          page={page}
          lever={lever.lever}
          settings={answered.settings}
          held={answered}
          onBeside={setBeside}
        />
        <p className="mt-3 text-sm text-soft">
          {lever.about} Model figures, not measurements: of measured push-up loads one study lies within 4
          points, others up to 7 above. The venue's rules and the coach's licence come first.
        </p>
      </div>
    </div>
  );
}

interface LadderProps {
  /** What the bars count. */
  title: string;
  ladder: ReturnType<typeof useLadder>;
  setting: number;
  unit: string;
  onPick: (value: number) => void;
}

/** What each setting costs, what was tested, and what the setting rule says now. */
function SettingLadder({ title, ladder, setting, unit, onPick }: LadderProps) {
  return (
    <section aria-label="Ladder of settings">
      <h2 className="mb-2 text-lg leading-tight">{title}</h2>
      {ladder.data ? (
        <LadderBars
          page={ladder.data}
          busy={ladder.isPlaceholderData}
          setting={setting}
          unit={unit}
          onPick={onPick}
        />
      ) : ladder.error ? (
        <Problem error={ladder.error} />
      ) : (
        <Waiting />
      )}
      {ladder.data?.tested && <p className="mt-1 text-sm">Tested: {ladder.data.tested}</p>}
      {ladder.data?.next_step && (
        <p className="mt-1 text-sm">
          Now: {ladder.data.next_step}. {ladder.data.because}
        </p>
      )}
    </section>
  );
}

interface UseProps {
  page: LeversPage;
  drill: LeversPage["drills"][number];
  settings: Settings;
  possible: boolean;
}

/** Put the setting into the trainee's dial for the drill. */
function UseSetting({ page, drill, settings, possible }: UseProps) {
  const queries = useQueryClient();
  const [kept, setKept] = useState("");
  const [wrong, setWrong] = useState<unknown>(null);
  if (Object.keys(settings).length === 0) return null;
  const now = JSON.stringify(settings);
  const use = () => {
    setWrong(null);
    const body = { id: uuidv7(), at: new Date().toISOString(), drill: drill.drill, settings };
    ask(client.POST("/api/trainees/{id}/settings", { params: { path: { id: page.trainee.id } }, body })).then(
      () => {
        setKept(now);
        for (const key of ["bench", "drill", "trainee"]) void queries.invalidateQueries({ queryKey: [key] });
        void queries.invalidateQueries({ queryKey: ["levers", page.trainee.id], exact: true });
      },
      setWrong,
    );
  };
  return (
    <div className="mt-4">
      <Button least="coach" kind="act" disabled={!possible} onClick={use}>
        Use this setting
      </Button>
      <p role="status" className="mt-1 text-sm text-soft">
        {kept === now ? `In use for ${drill.title.toLowerCase()} from now on.` : drill.chosen}
      </p>
      {wrong !== null && <Problem error={wrong} />}
    </div>
  );
}
