import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import {
  ask,
  type BayLook,
  type BayRung,
  client,
  type EasingPage,
  type SyllabusPage,
} from "../../api/client";
import { useSyllabus } from "../../api/hooks";
import { Button } from "../../parts/Button";
import { Field } from "../../parts/Field";
import { Message, Problem, Waiting } from "../../parts/Message";
import { BayOfRungs } from "./BayOfRungs";
import { type BayDraft, useBay, useLook } from "./bay";
import { SkillForm } from "./SkillForm";

/** A goal that nobody has written down yet, taken apart from the top down to where anybody starts. */
export function BreakdownScreen() {
  const page = useSyllabus();
  const easing = useQuery({
    queryKey: ["easing"],
    queryFn: () => ask(client.GET("/api/syllabus/easing", {})),
    staleTime: Number.POSITIVE_INFINITY,
  });
  if (page.isPending || easing.isPending) return <Waiting />;
  if (!page.data || !easing.data) return <Problem error={page.error ?? easing.error} />;
  return <Breaking page={page.data} easing={easing.data} />;
}

function Breaking({ page, easing }: { page: SyllabusPage; easing: EasingPage }) {
  const bay = useBay(page);
  const [kept, setKept] = useState("");
  const { look, standing, fresh, failure } = useLook(bay.draft);
  const begin = (title: string) => {
    setKept("");
    void bay.propose(title);
  };
  const keep = async () => {
    const title = bay.draft?.rungs[0]?.title ?? "";
    if (look && (await bay.keep(look))) setKept(title);
  };
  if (!bay.draft)
    return (
      <>
        {kept && (
          <Message>
            <b>{kept}</b> is a goal now, with a line of its own. Choose it under Goals on a trainee's page.{" "}
            <Link to="/syllabus" className="underline">
              See the line
            </Link>
          </Message>
        )}
        <NameSkill onName={begin} />
        {bay.error !== undefined && <Problem error={bay.error} />}
      </>
    );
  return (
    <>
      <div className="mb-4 flex flex-wrap items-end justify-between gap-x-8 gap-y-2">
        <div>
          <p className="text-sm text-soft">A goal of your own</p>
          <h1 className="text-[2.125rem] leading-tight">{bay.draft.rungs[0]?.title}</h1>
        </div>
        <Button kind="quiet" onClick={bay.clear}>
          Start over
        </Button>
      </div>
      {bay.draft.breakdown.there && (
        <Message>
          <b>{bay.draft.breakdown.there}</b> is this skill. It is on a line already.
        </Message>
      )}
      <SkillForm
        wanted={bay.draft.breakdown.wanted}
        easing={easing}
        onSay={(said) => void bay.propose(bay.draft?.rungs[0]?.title ?? "", said)}
      />
      {(bay.error ?? failure) !== undefined && (bay.error ?? failure) !== null && (
        <Problem error={bay.error ?? failure} named />
      )}
      <div className="grid gap-x-16 gap-y-6 lg:grid-cols-[minmax(0,1fr)_26.5rem]">
        <BayOfRungs
          rungs={bay.draft.rungs}
          units={easing.units}
          lines={page.content.lines}
          tooBig={look?.too_big ?? []}
          drawings={look?.drawings ?? []}
          onChange={bay.change}
        />
        <Beside
          draft={bay.draft}
          look={look}
          standing={standing}
          fresh={fresh}
          onRungs={bay.change}
          onDrop={bay.drop}
          onKeep={() => void keep()}
        />
      </div>
    </>
  );
}

function NameSkill({ onName }: { onName: (title: string) => void }) {
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    onName(String(new FormData(event.currentTarget).get("title")).trim());
  };
  return (
    <form onSubmit={submit} className="max-w-xl">
      <p className="text-sm text-soft">A goal of your own</p>
      <h1 className="mb-4 text-[2.125rem] leading-tight">Which skill do you want to break down?</h1>
      <Field
        label="The skill"
        hint="Say it as you would in the hall: tuck balance on canes, one-arm handstand, straddle planche push to handstand."
      >
        {(id) => (
          <input
            id={id}
            name="title"
            required
            minLength={2}
            maxLength={100}
            autoComplete="off"
            className="field"
          />
        )}
      </Field>
      <Button type="submit" kind="act">
        Break it down
      </Button>
    </form>
  );
}

interface BesideProps {
  draft: BayDraft;
  look: BayLook | undefined;
  standing: string | undefined;
  fresh: boolean;
  onRungs: (rungs: BayRung[]) => void;
  onDrop: (side: string, out: boolean) => void;
  onKeep: () => void;
}

/** What makes it easier, what is wrong with it, what else it needs, and who would stand where. */
function Beside({ draft, look, standing, fresh, onRungs, onDrop, onKeep }: BesideProps) {
  const { rungs, breakdown, dropped } = draft;
  const tryWay = (way: string) => onRungs(rungs.map((r) => (r.way === way ? { ...r, kept: true } : r)));
  const putBetween = (upper: number, between: BayRung) => {
    const there = rungs.findIndex((r) => r.title === between.title);
    if (there > upper) onRungs(rungs.map((r, n) => (n === there ? { ...r, kept: true } : r)));
    else onRungs([...rungs.slice(0, upper + 1), { ...between, kept: true }, ...rungs.slice(upper + 1)]);
  };
  return (
    <div aria-live="polite">
      <h2 className="text-xl">What makes it easier?</h2>
      <ul className="mb-4">
        {breakdown.ways.map((way) => {
          const there = rungs.some((r) => r.way === way.way);
          const used = rungs.some((r) => r.way === way.way && r.kept);
          return (
            <li
              key={way.way}
              className="grid grid-cols-[6.5rem_1fr_auto] items-center gap-x-2 border-b sm:grid-cols-[8rem_1fr_auto] border-rule py-1.5"
            >
              <b>{way.title}</b>
              <span className="text-soft">{way.about}</span>
              {used ? (
                <span className="text-blue">used</span>
              ) : there ? (
                <button type="button" className="min-h-8 underline" onClick={() => tryWay(way.way)}>
                  try it
                </button>
              ) : (
                <span className="text-faint">not here</span>
              )}
            </li>
          );
        })}
      </ul>
      {look?.too_big.map((big) => {
        const between = big.between;
        return (
          <div key={big.sentence} className="mb-3 border-l-4 border-blue bg-sheet px-4 py-2">
            <b>A step is too big.</b> {big.sentence}{" "}
            {between && (
              <button type="button" className="underline" onClick={() => putBetween(big.upper, between)}>
                Put in: {between.title}
              </button>
            )}
          </div>
        );
      })}
      <h2 className="text-lg">It also needs</h2>
      {breakdown.sides.length === 0 && <p className="text-soft">Nothing beside its own line.</p>}
      <ul className="mb-4">
        {breakdown.sides.map((side) => (
          <li key={side.side}>
            <label className="flex min-h-9 items-start gap-2 py-1">
              <input
                type="checkbox"
                className="mt-1 accent-blue"
                checked={!dropped.includes(side.side)}
                onChange={(event) => onDrop(side.side, !event.target.checked)}
              />
              <span>
                <span className="text-soft">{side.title}:</span> {side.words}
              </span>
            </label>
          </li>
        ))}
      </ul>
      <h2 className="text-lg">Where everybody would stand</h2>
      <p className="mb-4 text-soft">{standing ?? "Looking …"}</p>
      {look && look.problems.length > 0 && (
        <Message danger>
          <p className="font-bold">It cannot be kept so:</p>
          <ul>
            {look.problems.map((what) => (
              <li key={what}>{what}</li>
            ))}
          </ul>
        </Message>
      )}
      <Button
        least="owner"
        kind="act"
        disabled={!fresh || !look || look.problems.length > 0}
        onClick={onKeep}
      >
        Keep this line
      </Button>
      <p className="mt-2 text-sm text-soft">
        It goes into your own copy of the syllabus, as a line and a goal. The venue's rules come first.
      </p>
    </div>
  );
}
