import { useQueryClient } from "@tanstack/react-query";
import { Slider } from "radix-ui";
import { Link } from "react-router";
import { ask, type BenchPage, client } from "../../api/client";
import { levelName } from "../../live/sheet";
import { buttonLook } from "../../parts/Button";
import { Field } from "../../parts/Field";
import { day, figure } from "../../parts/words";

export function Cautions({ page, watched }: { page: BenchPage; watched: boolean }) {
  const { test, exits } = page;
  return (
    <div className={`mb-5 border-l-4 bg-sheet px-4 py-3 ${watched ? "border-brick" : "border-ink"}`}>
      {exits && (
        <p className={`font-bold ${watched ? "text-brick" : ""}`}>
          {exits.state === "proven"
            ? `Exits proven: ${exits.figure}.`
            : "Exits are not proven: no open floor without a spotter."}
        </p>
      )}
      {exits && exits.state !== "proven" && (
        <p>
          {exits.title}: {exits.shortfall}.
        </p>
      )}
      {!exits && watched && <p className="font-bold text-brick">A spotter stands by.</p>}
      <ul className="mt-1 list-disc pl-5">
        {test.cautions.map((line) => (
          <li key={line}>{line}</li>
        ))}
      </ul>
      <p className="mt-1">
        <b>Not yet able?</b> {test.instead}
      </p>
    </div>
  );
}

export function Rest({ page, rest, onRest }: { page: BenchPage; rest: number; onRest: (s: number) => void }) {
  return (
    <>
      <h2 className="mb-2 text-xl" id="rest-words">
        Rest between tries
      </h2>
      <p className="font-head text-5xl font-bold tabular-nums">{rest} s</p>
      <Slider.Root
        className="relative my-3 flex h-11 w-full touch-none items-center"
        min={page.test.rest_least_s.value}
        max={page.test.rest_most_s.value}
        step={5}
        value={[rest]}
        onValueChange={([value]) => value && onRest(value)}
      >
        <Slider.Track className="relative h-2 grow rounded-full bg-rule">
          <Slider.Range className="absolute h-full rounded-full bg-wood" />
        </Slider.Track>
        <Slider.Thumb
          aria-labelledby="rest-words"
          className="block h-8 w-8 rounded-md border-2 border-paper bg-blue"
        />
      </Slider.Root>
    </>
  );
}

/** From which figure on a try goes over to counting: the coach's own setting, where the test has one. */
export function CountBelow({ page }: { page: BenchPage }) {
  const queries = useQueryClient();
  const first = page.sheet.steps[page.sheet.first];
  const below = first?.ways.find((way) => way.below !== null)?.below;
  if (below === null || below === undefined) return null;
  const choose = (value: number) =>
    void ask(client.PATCH("/api/me", { body: { float_switch_s: value } })).then(() => {
      void queries.invalidateQueries({ queryKey: ["me"] });
      void queries.invalidateQueries({ queryKey: ["bench"] });
    });
  return (
    <Field label="Count touches after an end below" hint="For every trainee, until it is changed.">
      {(field) => (
        <select
          id={field}
          className="field"
          value={below}
          onChange={(event) => choose(Number(event.target.value))}
        >
          {[3, 4, 5].map((value) => (
            <option key={value} value={value}>
              {value} s
            </option>
          ))}
        </select>
      )}
    </Field>
  );
}

/** Where a ladder begins: what the trainee's own limit, or nerve, proposes, and any other notch. */
export function BeginAt({ page, onBegin }: { page: BenchPage; onBegin: (level: number) => void }) {
  const mode = page.test.modes[0];
  if (!mode?.ladder || page.begin === null) return null;
  const stack = page.sheet.stacks[levelName(page.begin)];
  const near = page.begins.reduce((best, level) =>
    Math.abs(level - (page.begin ?? 0)) < Math.abs(best - (page.begin ?? 0)) ? level : best,
  );
  return (
    <>
      <Field
        label="Begin at"
        hint={
          [stack, page.in_body[levelName(page.begin)]].filter(Boolean).join(" · ") ||
          "Measured by eye; enter your kit to see stacks."
        }
      >
        {(field) => (
          <select
            id={field}
            className="field"
            value={near}
            onChange={(event) => onBegin(Number(event.target.value))}
          >
            {page.begins.map((level) => (
              <option key={level} value={level}>
                {figure(level === near ? (page.begin ?? level) : level, mode)}
              </option>
            ))}
          </select>
        )}
      </Field>
      {page.limits.map((limit) => (
        <p key={`${limit.drill} ${limit.mode}`} className="mb-2 text-sm">
          {limit.title}: <b>{limit.words}</b> on {day(limit.day)}
          {limit.old && ", an old reading"}.
        </p>
      ))}
    </>
  );
}

export function Before({ page, id }: { page: BenchPage; id: string }) {
  const last = page.last;
  if (!last) return <p className="text-soft">First time: there is nothing to compare with yet.</p>;
  return (
    <p className="text-soft">
      Last time, {day(last.run.started_at)}: {last.verdict.summary}.{" "}
      <Link to={`/trainees/${id}/bench/${last.run.id}`} className={`${buttonLook("quiet")} !px-0 underline`}>
        Look
      </Link>
    </p>
  );
}
