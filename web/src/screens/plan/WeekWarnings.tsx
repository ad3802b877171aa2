import { Link } from "react-router";
import type { PlanPage } from "../../api/client";
import { Message, Problem } from "../../parts/Message";
import { capital, dayMonth } from "../../parts/words";

interface Props {
  page: PlanPage;
  /** What went wrong with planning or keeping, if anything did. */
  wrong: readonly unknown[];
}

/** What a coach has to know before the week: the intake's cautions, aches, what went wrong, what was refused, and whether to go on as it is. */
export function WeekWarnings({ page, wrong }: Props) {
  const { trainee } = page;
  return (
    <>
      {!page.cleared && (
        <Message danger>
          <b>Nothing upside down is planned.</b> The intake waits for what its cautions ask for and for your
          confirmation.{" "}
          <Link to={`/trainees/${trainee.id}/intake`} className="underline">
            Intake
          </Link>
        </Message>
      )}
      {page.aches.map((ache) => (
        <Message danger key={ache.joint}>
          <b>
            {capital(ache.joint)} {ache.level} of 10
          </b>{" "}
          on {dayMonth(ache.day)}
          {ache.sharp && ", sharp"}. Ask before loading it. The week is planned around it.
        </Message>
      ))}
      {wrong
        .filter((error) => error !== null && error !== undefined)
        .map((error) => (
          <Problem key={String(error)} error={error} />
        ))}
      {page.refused.map((question) => (
        <Message danger key={question.text}>
          {question.text} What was planned before stands below.
        </Message>
      ))}
      {page.course.map((words) => (
        <p key={words} className="mt-2 max-w-4xl border-l-4 border-wood bg-sheet px-3 py-1.5">
          {words}
        </p>
      ))}
    </>
  );
}
