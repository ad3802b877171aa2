import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useParams } from "react-router";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type IntakePage } from "../../api/client";
import { useIntake } from "../../api/hooks";
import { Button } from "../../parts/Button";
import { Problem, Waiting } from "../../parts/Message";
import { type Answers, answersOf, sentOf } from "./answers";
import { BeforePart } from "./BeforePart";
import { BodyPart } from "./BodyPart";
import { asksFor, CautionsPart } from "./CautionsPart";
import { FirstTests } from "./FirstTests";
import { Part } from "./Part";
import { Ticks } from "./Ticks";

/** A newcomer's first evening: what to ask before anybody goes upside down, and which tests to run first. */
export function IntakeScreen() {
  const { id = "" } = useParams();
  const page = useIntake(id);
  if (page.isPending || !page.isFetchedAfterMount) return <Waiting />;
  if (!page.data) return <Problem error={page.error} />;
  return <IntakeForm key={id} page={page.data} />;
}

const DRAFT = "perch.intake.";

function IntakeForm({ page }: { page: IntakePage }) {
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
  const asks = asksFor(page, answers);
  const save = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const params = { path: { id: trainee.id } };
    try {
      await ask(
        client.POST("/api/trainees/{id}/intake", {
          params,
          body: {
            id: uuidv7(),
            at: new Date().toISOString(),
            ...sentOf(answers, asks.length > 0),
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
        <CautionsPart page={page} answers={answers} set={set} />
        <Part title="What for">
          <Ticks
            items={page.goals.map((g) => [g.goal, g.title])}
            chosen={answers.goals}
            onToggle={(name) => toggle("goals", name)}
          />
        </Part>
        <BeforePart page={page} answers={answers} set={set} onToggle={(name) => toggle("experience", name)} />
        <Part title="Kit at home">
          <Ticks
            items={page.kit.map((k) => [k.item, k.title])}
            chosen={answers.kit}
            onToggle={(name) => toggle("kit", name)}
          />
        </Part>
      </div>
      <div>
        <BodyPart page={page} answers={answers} set={set} />
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
