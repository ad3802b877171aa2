import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { ask, client, type FirstEvening as Evening } from "../../api/client";
import { useFirstEvening } from "../../api/hall";
import { useMay, useMe } from "../../api/me";
import { Button, buttonLook } from "../../parts/Button";
import { Problem } from "../../parts/Message";

type Step = Evening["guide"]["steps"][number];

/** The first evening of an empty hall, step by step; each can be put off and found again here. */
export function FirstEvening() {
  const may = useMay("coach");
  const hall = useMe().data?.hall?.id;
  const queries = useQueryClient();
  const evening = useFirstEvening(may && hall !== undefined);
  const [error, setError] = useState<unknown>(null);
  const [all, showAll] = useState(false);
  if (!evening.data) return null;
  const { guide, sample } = evening.data;
  const { steps } = guide;
  const open = steps.filter((step) => !step.done && !step.left);
  const putOff = steps.filter((step) => !step.done && step.left);
  if (open.length === 0 && !all) return null;
  const sent = (call: Promise<unknown>) => call.then(() => queries.invalidateQueries(), setError);
  const put = (step: Step["step"] | "*", off: boolean) =>
    void sent(ask(client.POST("/api/hall/first-evening", { body: { step, off } })));
  return (
    <section aria-label="The first evening" className="mb-6 max-w-3xl border-l-4 border-wood bg-sheet p-4">
      <h2 className="text-xl">The first evening</h2>
      <p className="mb-3 text-soft">{guide.said} Each step can be put off and found again here.</p>
      {error !== null && <Problem error={error} />}
      <ol>
        {(all ? steps : steps.filter((step) => step.done || !step.left)).map((step) => (
          <li
            key={step.step}
            className="grid grid-cols-[1.5rem_1fr] items-start gap-x-3 gap-y-1 border-b border-rule py-2 sm:grid-cols-[1.5rem_1fr_auto]"
          >
            <span
              aria-hidden="true"
              className={`mt-1 inline-block h-5 w-5 rounded-full border-2 ${step.done ? "border-wood bg-wood" : "border-rule"}`}
            />
            <span className={step.done ? "text-soft" : ""}>
              <b>{step.title}</b>
              {step.done ? (
                <span className="text-soft">, done</span>
              ) : (
                <span className="block text-sm text-soft">{step.words}</span>
              )}
            </span>
            {!step.done && (
              <span className="col-start-2 flex gap-2 sm:col-start-3">
                {step.to && (
                  <Link to={step.to} className={buttonLook(step.step === guide.next_step ? "act" : "plain")}>
                    {step.step === guide.next_step ? "Begin here" : "Go there"}
                  </Link>
                )}
                <Button
                  kind="quiet"
                  aria-label={`${step.left ? "Take up again" : "Later"}: ${step.title}`}
                  onClick={() => put(step.step, !step.left)}
                >
                  {step.left ? "Take up again" : "Later"}
                </Button>
              </span>
            )}
          </li>
        ))}
      </ol>
      <p className="mt-3 flex flex-wrap gap-x-5 gap-y-2">
        {sample ? (
          <>
            <Link to={`/trainees/${sample}`} className="inline-flex min-h-11 items-center underline">
              Look round with the sample trainee
            </Link>
            <Button kind="quiet" onClick={() => void sent(ask(client.POST("/api/hall/sample/take-away")))}>
              Take the sample away
            </Button>
          </>
        ) : (
          <Button onClick={() => void sent(ask(client.POST("/api/hall/sample")))}>
            Look round first, with a made-up trainee
          </Button>
        )}
        {putOff.length > 0 && !all && (
          <Button kind="quiet" onClick={() => showAll(true)}>
            Show what was put off
          </Button>
        )}
        <Button kind="quiet" onClick={() => put("*", true)}>
          I need no guide
        </Button>
      </p>
    </section>
  );
}
