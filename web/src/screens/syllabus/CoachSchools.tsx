import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ask, client, type SyllabusPage } from "../../api/client";
import { Choice } from "../../parts/Field";
import { Problem } from "../../parts/Message";

/** Where practitioners disagree: how this coach teaches. Each trainee may be an exception, on their own page. */
export function CoachSchools({ page }: { page: SyllabusPage }) {
  const queries = useQueryClient();
  const [error, setError] = useState<unknown>();
  const pick = async (question: string, school: string) => {
    const usual = page.content.schools.find((q) => q.question === question)?.schools[0]?.school;
    const { [question]: _, ...rest } = page.schools;
    const schools = school === usual ? rest : { ...rest, [question]: school };
    try {
      await ask(client.PATCH("/api/me", { body: { schools } }));
      await queries.invalidateQueries();
      setError(undefined);
    } catch (failure) {
      setError(failure);
    }
  };
  return (
    <section aria-label="Schools">
      <p className="mb-3 text-soft">
        Where practitioners disagree. What is picked here holds for everybody. An exception for one trainee
        stands on that trainee's page. A school changes order, gates, cues or doses, and nothing else.
      </p>
      {error !== undefined && <Problem error={error} />}
      {page.content.schools.map((q) => (
        <Choice
          key={q.question}
          legend={q.title}
          options={q.schools.map((s) => [s.school, s.title] as const)}
          value={page.schools[q.question] ?? q.schools[0]?.school ?? ""}
          onPick={(school) => void pick(q.question, school)}
        />
      ))}
    </section>
  );
}
