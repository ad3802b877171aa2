import { Link } from "react-router";
import type { Variant } from "../../api/client";
import { type LiveSession, standing } from "../../live/session";
import { Button, buttonLook } from "../../parts/Button";
import { Seconds } from "../../parts/Seconds";
import { clock } from "../../parts/words";
import type { SetInHand } from "./useSet";

const LOUD = "my-1 contain-content font-head font-bold leading-none text-[9rem] max-sm:text-[5.5rem]";

interface FigureProps {
  set: SetInHand;
  variant: Variant;
  session: LiveSession;
  target: number;
}

/** The loudest thing: the rest that is left, the clock, the minute, or the count. */
export function Figure({ set, variant, session, target }: FigureProps) {
  const { phase, takes, restLeft, seconds, count, dose, limit, minuteLeft, begun } = set;
  if (takes === "done")
    return variant.test ? (
      <p className="my-4">
        <Link
          to={`/trainees/${session.trainee}/bench/test/${variant.test}`}
          className={buttonLook("plain", true)}
        >
          Run it on the Bench
        </Link>
      </p>
    ) : (
      <WarmUp session={session} on={set.slot === session.sheet.slots[0]} about={variant.about} />
    );
  return (
    <div className="flex flex-wrap items-end gap-x-8">
      <p className={`${LOUD} ${phase === "going" ? "text-blue" : ""}`} data-testid="figure">
        {phase === "rest" ? (
          <>
            <span className="sr-only">rest left </span>
            {clock(restLeft)}
          </>
        ) : takes === "minute" ? (
          begun ? (
            clock(minuteLeft)
          ) : (
            "1:00"
          )
        ) : takes === "clock" ? (
          set.since !== undefined ? (
            <Seconds since={set.since} />
          ) : (
            seconds.toFixed(1)
          )
        ) : takes === "stretch" ? (
          Math.max(0, Math.ceil((limit ?? target) - seconds))
        ) : takes === "touches" ? (
          count
        ) : takes === "single" ? (
          set.sets.length + 1
        ) : (
          count
        )}
        <span className="ml-3 text-[30%]">{unitOf(set)}</span>
      </p>
      <div className="pb-4 text-lg">
        {phase === "rest" && dose && <p className="text-soft">rest, of {clock(dose.rest_s)}</p>}
        {set.ceiling !== null && phase !== "rest" && (
          <p className="text-soft">
            at most {set.ceiling} {dose?.measure === "hold" ? "s" : ""}
          </p>
        )}
        {takes === "touches" && phase === "going" && limit !== null && (
          <p>{Math.max(0, Math.ceil(limit - seconds))} s left</p>
        )}
        {takes === "minute" && (
          <p>
            minute {set.minute} of {set.now?.sets} · {count}{" "}
            {dose?.measure === "reps" ? (count === 1 ? "rep" : "reps") : "s"}
          </p>
        )}
        {dose?.then && (
          <p className="flex items-center gap-2">
            then {dose.then.title.toLowerCase()}
            <Button aria-label="Five seconds less" onClick={() => set.stepAfter(-5)}>
              −
            </Button>
            <b className="tabular-nums">{set.after} s</b>
            <Button aria-label="Five seconds more" onClick={() => set.stepAfter(5)}>
              +
            </Button>
          </p>
        )}
        <SetsSoFar set={set} />
      </div>
      {phase === "rest" && dose && (
        <div className="mb-2 h-3 w-full overflow-hidden rounded bg-lightwood" aria-hidden="true">
          <div className="h-full bg-blue" style={{ width: `${100 * (1 - restLeft / dose.rest_s)}%` }} />
        </div>
      )}
    </div>
  );
}

function unitOf({ takes, phase, dose }: SetInHand): string {
  if (phase === "rest" || takes === "minute") return "";
  if (takes === "clock" || takes === "stretch") return "s";
  if (takes === "touches") return "touches";
  if (takes === "single") return "next";
  return dose?.measure === "reps" ? "reps" : dose?.measure === "distance" ? "cm" : "";
}

function SetsSoFar({ set }: { set: SetInHand }) {
  if (!set.sets.length) return null;
  if (set.takes === "single") {
    const good = set.sets.filter((e) => e.what.value).length;
    return (
      <p>
        <b>{good}</b> of {set.sets.length} good
      </p>
    );
  }
  return (
    <p>
      {set.sets
        .map(
          (e) =>
            `${e.what.value ?? "done"}${e.what.form && e.what.form !== "clean" ? ` ${e.what.form}` : ""}`,
        )
        .join(", ")}
    </p>
  );
}

/** What there is to do without sets; of the warm-up the parts of the one that was chosen. */
function WarmUp({ session, on, about }: { session: LiveSession; on: boolean; about: string }) {
  const begun = standing(session).find((e) => e.what.kind === "ready")?.what;
  const chosen = on ? session.sheet.before?.warm_ups.find((w) => w.warm_up === begun?.warm_up) : undefined;
  if (!chosen) return <p className="my-2 max-w-2xl text-xl">{about}</p>;
  return (
    <ol aria-label={chosen.title} className="my-2 max-w-2xl text-xl">
      {chosen.parts.map((part) => (
        <li key={part.title} className="flex justify-between gap-4 border-b border-rule py-0.5">
          {part.title} <span className="text-soft tabular-nums">{clock(part.seconds)}</span>
        </li>
      ))}
    </ol>
  );
}
