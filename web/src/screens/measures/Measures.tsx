import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useParams } from "react-router";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type MeasuresPage } from "../../api/client";
import { useMeasures } from "../../api/hooks";
import { Button } from "../../parts/Button";
import { Field } from "../../parts/Field";
import { Message, Problem, Waiting } from "../../parts/Message";
import { HowToMeasure } from "./HowToMeasure";
import { LengthRow } from "./LengthRow";

/** A trainee's size: stature and mass, and lengths that are estimated until somebody takes them. */
export function Measures() {
  const { id = "" } = useParams();
  const page = useMeasures(id);
  if (page.isPending || !page.isFetchedAfterMount) return <Waiting />;
  if (!page.data) return <Problem error={page.error} />;
  return <Form key={id} page={page.data} />;
}

/** A number as typed, comma or point; undefined where nothing was. */
const typedNumber = (text: string) =>
  text.trim() === "" ? undefined : Number(text.trim().replace(",", "."));

interface Typed {
  stature: string;
  mass: string;
  /** Lengths by name, as typed. */
  typed: Record<string, string>;
  /** Distances set by hand, by name, as typed. */
  apart: Record<string, string>;
  /** The coach has said that odd figures are so. */
  sure: boolean;
}

/** What was typed as the server takes it, or what is wrong with it. */
function bodyOf({ stature, mass, typed, apart, sure }: Typed) {
  const tall = typedNumber(stature);
  const numbersOf = (texts: Record<string, string>) =>
    Object.entries(texts).flatMap(([name, text]) => {
      const cm = typedNumber(text);
      return cm === undefined ? [] : [[name, cm] as const];
    });
  const lengths = numbersOf(typed);
  const distances = numbersOf(apart);
  const numbers = [tall, typedNumber(mass), ...[...lengths, ...distances].map(([, cm]) => cm)];
  if (tall === undefined) return new Error("Stature first: everything else is estimated from it.");
  if (numbers.some((n) => n !== undefined && !Number.isFinite(n)))
    return new Error("One of these is no number. Nothing was kept yet. What you typed stands here.");
  return {
    id: uuidv7(),
    at: new Date().toISOString(),
    stature_cm: tall,
    mass_kg: typedNumber(mass) ?? null,
    lengths_cm: Object.fromEntries(lengths),
    distances_cm: Object.fromEntries(distances),
    sure,
  };
}

function Form({ page }: { page: MeasuresPage }) {
  const id = page.trainee.id;
  const queries = useQueryClient();
  const [stature, setStature] = useState(String(page.stature_cm ?? ""));
  const [mass, setMass] = useState(String(page.mass_kg ?? ""));
  const [typed, setTyped] = useState<Record<string, string>>(
    Object.fromEntries(Object.entries(page.measured_cm).map(([name, cm]) => [name, String(cm)])),
  );
  const [apart, setApart] = useState<Record<string, string>>(
    Object.fromEntries(page.distances.flatMap((d) => (d.cm === null ? [] : [[d.distance, String(d.cm)]]))),
  );
  const [lit, setLit] = useState("");
  const [doubts, setDoubts] = useState<string[]>([]);
  const [wrong, setWrong] = useState<unknown>(null);
  const [kept, setKept] = useState(false);
  const estimates = Object.fromEntries(page.lengths.map((l) => [l.length, l]));
  const tall = typedNumber(stature);
  const estimateOf = (length: string) =>
    tall === page.stature_cm && estimates[length]?.estimated
      ? `estimated ${estimates[length]?.cm} cm`
      : "estimated";

  const send = (sure: boolean) => {
    setWrong(null);
    setKept(false);
    const body = bodyOf({ stature, mass, typed, apart, sure });
    if (body instanceof Error) return setWrong(body);
    ask(client.POST("/api/trainees/{id}/measures", { params: { path: { id } }, body })).then((answer) => {
      setDoubts(answer.doubts);
      setKept(answer.kept);
      if (answer.kept)
        for (const key of ["measures", "levers", "bench", "drill", "trainee", "intake"])
          void queries.invalidateQueries({ queryKey: [key] });
    }, setWrong);
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    send(false);
  };
  return (
    <>
      <h1 className="mb-1 text-[2.125rem] leading-tight">Measures</h1>
      <p className="mb-4 max-w-3xl text-soft">
        What {page.trainee.name} measures, without shoes. Left empty, a length is estimated from stature and
        every figure made from it says so.
      </p>
      <div className="grid gap-x-14 gap-y-6 lg:grid-cols-[1fr_22rem]">
        <form onSubmit={submit} noValidate aria-label="Measures">
          <div className="flex gap-6">
            <Field label="S · Stature, cm">
              {(field) => (
                <input
                  id={field}
                  className="field max-w-32"
                  inputMode="decimal"
                  value={stature}
                  onFocus={() => setLit("stature")}
                  onChange={(event) => setStature(event.target.value)}
                />
              )}
            </Field>
            <Field label="Mass, kg" hint="for newtons and joules; shares do without">
              {(field) => (
                <input
                  id={field}
                  className="field max-w-32"
                  inputMode="decimal"
                  value={mass}
                  onChange={(event) => setMass(event.target.value)}
                />
              )}
            </Field>
          </div>
          <ul>
            {page.asked.map((asked) => (
              <LengthRow
                key={asked.length}
                asked={asked}
                typed={typed[asked.length] ?? ""}
                lit={lit === asked.length}
                estimate={estimateOf(asked.length)}
                onLit={() => setLit(asked.length)}
                onType={(text) => setTyped({ ...typed, [asked.length]: text })}
              />
            ))}
          </ul>
          <p className="mt-2 text-sm text-soft">Estimates: {page.asked[0]?.source}.</p>
          <h2 className="mt-5 text-xl">Shown by hand once, kept</h2>
          <ul>
            {page.distances.map((d) => (
              <li key={d.distance} className="border-b border-rule py-1.5">
                <label className="flex items-center gap-3">
                  <span className="grow">
                    {d.title}
                    <span className="block text-sm text-soft">{d.how}</span>
                  </span>
                  <input
                    aria-label={`${d.title}, cm`}
                    className="field max-w-24 text-right"
                    inputMode="decimal"
                    value={apart[d.distance] ?? ""}
                    onChange={(event) => setApart({ ...apart, [d.distance]: event.target.value })}
                  />
                  <span className="text-soft">cm</span>
                </label>
              </li>
            ))}
          </ul>
          {doubts.length > 0 && <Doubts doubts={doubts} onSure={() => send(true)} />}
          {wrong !== null && <Problem error={wrong} />}
          {kept && <Kept trainee={id} />}
          <Button kind="act" type="submit" className="mt-4">
            Keep measures
          </Button>
        </form>
        <HowToMeasure lit={lit} />
      </div>
    </>
  );
}

function Kept({ trainee }: { trainee: string }) {
  return (
    <p role="status" className="mt-3">
      Kept. Everything made from these measures is worked out again.{" "}
      <Link to={`/trainees/${trainee}/levers`} className="underline">
        To the levers
      </Link>
    </p>
  );
}

/** What looks odd about the figures; the coach says that it is so, or puts it right. */
function Doubts({ doubts, onSure }: { doubts: string[]; onSure: () => void }) {
  return (
    <Message>
      <b>Nothing is kept yet.</b>
      <ul className="ml-5 list-disc">
        {doubts.map((doubt) => (
          <li key={doubt}>{doubt}</li>
        ))}
      </ul>
      <Button className="mt-2" onClick={onSure}>
        It is so: keep it
      </Button>
    </Message>
  );
}
