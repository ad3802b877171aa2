import { useQueryClient } from "@tanstack/react-query";
import { v7 as uuidv7 } from "uuid";
import { ask, type ClassPage, client } from "../../api/client";
import { goesOn } from "../../live/useJob";
import { Button } from "../../parts/Button";
import { JobProgress } from "../../parts/JobProgress";
import { dayMonth } from "../../parts/words";

/** Have an evening laid out once more, by everybody's plans as they are now. */
export function useLayOut(page: ClassPage) {
  const queries = useQueryClient();
  return () =>
    ask(
      client.POST("/api/classes/{id}/lay-out", { params: { path: { id: page.id } }, body: { id: uuidv7() } }),
    ).then(() => queries.invalidateQueries({ queryKey: ["class", page.id] }));
}

/** An evening that is being laid out: how far it is, and how to stop it. */
export function LayingOut({ page }: { page: ClassPage }) {
  const again = useLayOut(page);
  return (
    <>
      <h1 className="text-[2.125rem] leading-tight">
        {page.room}, {dayMonth(page.day)}, {page.time}
      </h1>
      <JobProgress
        job={page.job ?? null}
        doing="Laying the evening out, step"
        done="steps done"
        onStop={() =>
          void ask(client.POST("/api/jobs/{id}/stop", { params: { path: { id: page.job?.id ?? "" } } }))
        }
      />
      {!goesOn(page.job) && (
        <Button kind="act" least="coach" onClick={() => void again()}>
          Lay it out
        </Button>
      )}
    </>
  );
}
