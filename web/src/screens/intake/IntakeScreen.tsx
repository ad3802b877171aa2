import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, type ReactNode, useState } from "react";
import { Link, useParams } from "react-router";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type IntakePage } from "../../api/client";
import { useIntake } from "../../api/hooks";
import { Button } from "../../parts/Button";
import { Choice, Field } from "../../parts/Field";
import { Message, Problem, Waiting } from "../../parts/Message";
import { type Answer, Caution } from "./Caution";
import { FirstTests } from "./FirstTests";
import { Lengths } from "./Lengths";
import { Ticks } from "./Ticks";

/** A newcomer's first evening: what to ask before anybody goes upside down, and which tests to run first. */
export function IntakeScreen() {
  const { id = "" } = useParams();
  const page = useIntake(id);
  if (page.isPending || !page.isFetchedAfterMount) return <Waiting />;
  if (!page.data) return <Problem error={page.error} />;
  return <Asked key={id} page={page.data} />;
}

const CONFIDENCE = ["1", "2", "3", "4", "5"].map((n) => [n, n] as const);
const DRAFT = "perch.intake.";

interface Answers {
  stature: string;
  mass: string;
  lengths: Record<string, string>;
  cautions: Record<string, Answer>;
  cleared: boolean;
  goals: string[];
  experience: string[];
  kit: string[];
  confidence: string;
  history: string;
}

const answersOf = ({ profile, goals }: IntakePage): Answers => ({
  stature: profile?.stature_cm ? String(profile.stature_cm) : "",
  mass: profile?.mass_kg ? String(profile.mass_kg) : "",
  lengths: Object.fromEntries(Object.entries(profile?.lengths_cm ?? {}).map(([k, v]) => [k, String(v)])),
  cautions: Object.fromEntries(
    Object.entries(profile?.cautions ?? {}).map(([k, yes]) => [k, yes ? "yes" : "no"]),
  ),
  cleared: profile?.cleared ?? false,
  goals: goals.filter((g) => g.chosen).map((g) => g.goal),
  experience: profile?.experience ?? [],
  kit: profile?.kit ?? [],
  confidence: profile?.confidence ? String(profile.confidence) : "",
  history: profile?.history ?? "",
});

function Asked({ page }: { page: IntakePage }) {
  const { trainee } = page;
  const queries = useQueryClient();
  // what was typed stays in this browser until the server has it
  const [answers, setAnswers] = useState<Answers>(
    () => JSON.parse(localStorage.getItem(DRAFT + trainee.id) ?? "null") ?? answersOf(page),
  );
  const [error, setError] = useState<unknown>();
  const [saved, setSaved] = useState(false);
  const set = (part: Partial<Answers>) => {
    const next = { ...answers, ...part };
    localStorage.setItem(DRAFT + trainee.id, JSON.stringify(next));
    setAnswers(next);
    setSaved(false);
  };
  const asks = page.cautions.filter((q) => q.clinician && answers.cautions[q.caution] === "yes");
  const save = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const params = { path: { id: trainee.id } };
    const number = (text: string) => (text ? Number(text) : null);
    try {
      await ask(
        client.POST("/api/trainees/{id}/intake", {
          params,
          body: {
            id: uuidv7(),
            at: new Date().toISOString(),
            stature_cm: Number(answers.stature),
            mass_kg: number(answers.mass),
            lengths_cm: Object.fromEntries(
              Object.entries(answers.lengths)
                .filter(([, text]) => text)
                .map(([name, text]) => [name, Number(text)]),
            ),
            cautions: Object.fromEntries(
              Object.entries(answers.cautions)
                .filter(([, answer]) => answer)
                .map(([name, answer]) => [name, answer === "yes"]),
            ),
            cleared: answers.cleared && asks.length > 0,
            experience: answers.experience,
            history: answers.history,
            confidence: number(answers.confidence),
            kit: answers.kit,
          },
        }),
      );
      await ask(client.PUT("/api/trainees/{id}/goals", { params, body: { goals: answers.goals } }));
      localStorage.removeItem(DRAFT + trainee.id);
      await queries.invalidateQueries();
      setError(undefined);
      setSaved(true);
    } catch (failure) {
      setError(failure);
    }
  };
  const toggle = (part: "goals" | "experience" | "kit", name: string) => {
    const now = answers[part];
    set({ [part]: now.includes(name) ? now.filter((n) => n !== name) : [...now, name] });
  };
  return (
    <form onSubmit={(event) => void save(event)} className="grid gap-x-12 lg:grid-cols-[1fr_23rem]">
      <div>
        <p className="text-soft">
          <Link to={`/trainees/${trainee.id}`} className="underline">
            {trainee.name}
          </Link>
        </p>
        <h1 className="mb-4 text-[2.125rem] leading-tight">Before anybody goes upside down</h1>
        <Part title="Ask each of these">
          <ul>
            {page.cautions.map((q) => (
              <Caution
                key={q.caution}
                question={q.question}
                advice={q.advice}
                value={answers.cautions[q.caution] ?? ""}
                onPick={(answer) =>
                  // a confirmation speaks of the answers it was given for, and of no others
                  set({ cautions: { ...answers.cautions, [q.caution]: answer }, cleared: false })
                }
              />
            ))}
          </ul>
          {asks.length > 0 && (
            <Message danger>
              <p className="mb-2">
                <b>{[...new Set(asks.map((q) => q.advice))].join(" ")}</b> Until you confirm, nothing upside
                down is open for {trainee.name}. This is a coach's record, not medical advice; the venue's
                rules and your licence come first.
              </p>
              <label className="flex min-h-11 cursor-pointer items-center gap-3">
                <input
                  type="checkbox"
                  className="h-5 w-5 accent-blue"
                  checked={answers.cleared}
                  onChange={(event) => set({ cleared: event.target.checked })}
                />
                That was done, and I confirm.
              </label>
            </Message>
          )}
        </Part>
        <Part title="What for">
          <Ticks
            items={page.goals.map((g) => [g.goal, g.title])}
            chosen={answers.goals}
            onToggle={(name) => toggle("goals", name)}
          />
        </Part>
        <Part title="What has been done before">
          <Ticks
            items={page.experiences.map((e) => [e.experience, e.title])}
            chosen={answers.experience}
            onToggle={(name) => toggle("experience", name)}
          />
          <Field label="In their own words">
            {(field) => (
              <textarea
                id={field}
                rows={2}
                maxLength={2000}
                className="field"
                value={answers.history}
                onChange={(event) => set({ history: event.target.value })}
              />
            )}
          </Field>
          <Choice
            legend="Confidence upside down, 1 to 5"
            options={CONFIDENCE}
            value={answers.confidence}
            onPick={(confidence) => set({ confidence })}
          />
        </Part>
        <Part title="Kit at home">
          <Ticks
            items={page.kit.map((k) => [k.item, k.title])}
            chosen={answers.kit}
            onToggle={(name) => toggle("kit", name)}
          />
        </Part>
      </div>
      <div>
        <Part title="The body">
          <div className="grid grid-cols-2 gap-x-4">
            <Field label="Stature, cm">
              {(field) => (
                <input
                  id={field}
                  type="number"
                  step="0.1"
                  required
                  className="field"
                  value={answers.stature}
                  onChange={(event) => set({ stature: event.target.value })}
                />
              )}
            </Field>
            <Field label="Mass, kg">
              {(field) => (
                <input
                  id={field}
                  type="number"
                  step="0.1"
                  className="field"
                  value={answers.mass}
                  onChange={(event) => set({ mass: event.target.value })}
                />
              )}
            </Field>
          </div>
          <Lengths lengths={page.lengths} typed={answers.lengths} onSet={(lengths) => set({ lengths })} />
        </Part>
        {error !== undefined && <Problem error={error} />}
        <Button type="submit" kind="act" live className="mb-2 w-full">
          Keep the intake
        </Button>
        {saved && <p role="status">Kept. Earlier answers stay on record.</p>}
        <FirstTests page={page} />
      </div>
    </form>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="mb-6">
      <h2 className="mb-1 border-b border-rule text-xl">{title}</h2>
      {children}
    </section>
  );
}
