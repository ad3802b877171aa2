import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { ask, client, type ProgressPage, type WrongTurn } from "../../api/client";
import { Button } from "../../parts/Button";
import { Problem } from "../../parts/Message";
import { StandsStill } from "../../parts/StandsStill";

/** Whether to go on as it is: the course to be kept, what stands still with what practice would try, and what is told early. */
export function Told({ page }: { page: ProgressPage }) {
  const { course } = page;
  // what the boxes below say in full is not said twice
  const own = course.kind !== "still" && course.sentence !== page.stay;
  return (
    <section
      aria-label="What it means"
      className="mt-6 grid grid-cols-[minmax(0,1fr)] gap-x-12 gap-y-4 lg:grid-cols-2"
    >
      {own && <p className="border-l-4 border-wood bg-sheet px-4 py-2 text-lg">{course.sentence}</p>}
      {page.stay && <p className="border-l-4 border-wood bg-sheet px-4 py-2 text-lg">{page.stay}</p>}
      {page.standing_still.map((still) => (
        <StandsStill key={still.drill} still={still} />
      ))}
      {page.turns.map((turn) => (
        <Turn key={turn.turn} trainee={page.trainee.id} turn={turn} />
      ))}
    </section>
  );
}

/** One thing told early; once it is heard it is not said again. */
function Turn({ trainee, turn }: { trainee: string; turn: WrongTurn }) {
  const queries = useQueryClient();
  const [error, setError] = useState<unknown>();
  const hear = async () => {
    const body = { turn: turn.turn, silenced: true, at: new Date().toISOString() };
    try {
      await ask(client.PUT("/api/trainees/{id}/turns", { params: { path: { id: trainee } }, body }));
      for (const key of ["progress", "group"]) void queries.invalidateQueries({ queryKey: [key] });
    } catch (failure) {
      setError(failure);
    }
  };
  const to = turn.test
    ? `/trainees/${trainee}/bench/test/${turn.test}`
    : turn.drill
      ? `/trainees/${trainee}?drill=${turn.drill}`
      : turn.kind === "not done"
        ? `/trainees/${trainee}/plan`
        : "";
  return (
    <div className="flex flex-wrap items-center justify-between gap-x-6 gap-y-2 border-l-4 border-ink bg-sheet px-4 py-2">
      <p className="max-w-md">
        <b>{turn.sentence}</b> {turn.because}
      </p>
      <p className="flex gap-2">
        {to && (
          <Link to={to} className="inline-flex min-h-11 items-center px-2 underline">
            Look
          </Link>
        )}
        <Button least="coach" kind="quiet" onClick={() => void hear()}>
          Heard, say no more
        </Button>
      </p>
      {error !== undefined && <Problem error={error} />}
    </div>
  );
}
