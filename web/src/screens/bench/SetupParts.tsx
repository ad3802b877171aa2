import { useQueryClient } from "@tanstack/react-query";
import { Slider } from "radix-ui";
import { Link } from "react-router";
import { ask, type BenchPage, client } from "../../api/client";
import { levelName } from "../../live/sheet";
import { buttonLook } from "../../parts/Button";
import { Field } from "../../parts/Field";
import { Message } from "../../parts/Message";
import { capital, day, figure } from "../../parts/words";

/** What to mind, and who stands by. */
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

/** How long the rests between tries are. */
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
    void ask(client.PATCH("/api/hall", { body: { float_switch_s: value } })).then(() => {
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
          "Measured by eye. Enter your kit to see stacks."
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

/** What came out the last times. */
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

/** What has to be said before a test: a run that is still open, and why it may have to wait. */
export function Notices({ page, testDay }: { page: BenchPage; testDay: boolean }) {
  const id = page.trainee.id;
  return (
    <>
      {page.open_run && !testDay && (
        <Message>
          A run is still open.{" "}
          <Link to={`/trainees/${id}/bench/${page.open_run}`} className="font-bold underline">
            Go on with it
          </Link>{" "}
          or start a new one below.
        </Message>
      )}
      {page.held && (
        <Message danger>
          <b>{page.held}</b>{" "}
          <Link to={`/trainees/${id}/intake`} className="underline">
            Confirm in the intake
          </Link>
        </Message>
      )}
    </>
  );
}

interface WhichProps {
  page: BenchPage;
  /** Left out where the drill is settled. */
  onSubject: ((subject: string) => void) | undefined;
}

/** The drill that is tested: one of several, or the one there is. */
export function WhichDrill({ page, onSubject }: WhichProps) {
  return (
    <>
      {page.subjects.length > 1 && onSubject && (
        <Field label="Which drill?">
          {(field) => (
            <select
              id={field}
              className="field"
              value={page.subject?.drill}
              onChange={(event) => onSubject(event.target.value)}
            >
              {page.subjects.map((s) => (
                <option key={s.drill} value={s.drill}>
                  {s.title}, gate {s.gate}
                </option>
              ))}
            </select>
          )}
        </Field>
      )}
      {page.subject && (page.subjects.length === 1 || !onSubject) && (
        <p className="mb-2 font-bold">
          {page.subject.title}, gate {page.subject.gate}
        </p>
      )}
    </>
  );
}

/** How the room stands, and how it stands for this trainee. */
export function RoomLines({ page, dial }: { page: BenchPage; dial: BenchPage["dial"] }) {
  const { test, trainee, exits } = page;
  const dialName = page.subject?.dial?.name;
  return (
    <>
      <h2 className="text-xl">The room</h2>
      <ul className="mb-4 mt-1 list-disc pl-5 text-[1.0625rem]">
        {test.setup.map((line) => (
          <li key={line}>{line}</li>
        ))}
        {dial[dialName ?? ""] === page.dial[dialName ?? ""] &&
          page.for_you.map((line) => (
            <li key={line} className="font-bold">
              For {trainee.name}
              {page.for_you_at && `, ${page.for_you_at}`}: {line}
            </li>
          ))}
        {trainee.stepping_side && exits && (
          <li>Keep the floor clear to the {trainee.stepping_side}, the stepping side.</li>
        )}
      </ul>
    </>
  );
}

interface DialProps {
  page: BenchPage;
  dial: BenchPage["dial"];
  onDial: (dial: BenchPage["dial"]) => void;
}

/** Where the dial of the tested drill is set now, and where it stands in training. */
export function DialField({ page, dial, onDial }: DialProps) {
  const dialName = page.subject?.dial?.name;
  return (
    <>
      {dialName && (
        <Field
          label={`${capital(dialName.replaceAll("-", " "))}, ${page.subject?.dial?.unit === "deg" ? "degrees" : "cm"}`}
          hint={
            page.in_body[levelName(dial[dialName] ?? Number.NaN)] ??
            "Kept with the result, so that the next time compares."
          }
        >
          {(field) => (
            <input
              id={field}
              type="number"
              step="0.5"
              min={-100}
              max={500}
              className="field"
              value={dial[dialName] ?? ""}
              onChange={(event) =>
                onDial(event.target.value === "" ? {} : { [dialName]: Number(event.target.value) })
              }
            />
          )}
        </Field>
      )}
      {page.setting && (
        <p className="mb-4 border-l-4 border-wood pl-3 text-sm" data-testid="dial-stands">
          <b>In training: {page.setting.words}.</b> {page.setting.because.map((b) => b.text).join(" ")}
        </p>
      )}
    </>
  );
}
