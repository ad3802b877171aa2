import { Link, useNavigate } from "react-router";
import { useClasses } from "../../api/classNight";
import type { ClassPage } from "../../api/client";
import { happenInClass, minuteOf, useClassNight, whereAt } from "../../live/classNight";
import { confirmedSession, happen, presentSession, whereSession } from "../../live/session";
import { useKeys } from "../../live/useKeys";
import { useNow } from "../../live/useNow";
import { Button } from "../../parts/Button";
import { hourAt, leftOf } from "./clockWords";

interface Props {
  who: string | undefined;
  session: string;
}

/** The class night that is under way, on the Floor: its clock says what each is at, and one key leads to who needs eyes. */
export function FloorStrip({ who, session }: Props) {
  const night = useClasses().data?.find((c) => c.state === "under way");
  return night ? <Strip id={night.id} who={who} session={session} /> : null;
}

function Strip({ id, who, session }: Props & { id: string }) {
  const { page } = useClassNight(id);
  return page?.laid_out && page.begun_at && !page.closed_at ? (
    <Under page={page} who={who} session={session} />
  ) : null;
}

function Under({ page, who, session }: Props & { page: ClassPage }) {
  const go = useNavigate();
  const moment = useNow(!page.held_since, (at) => Math.floor((minuteOf(page, at) ?? 0) * 60));
  const minute = minuteOf(page, moment) ?? 0;
  const { hands } = page.told;
  const wanted =
    hands.find((h) => h.start_min <= minute && minute < h.end_min) ?? hands.find((h) => h.start_min > minute);
  const eyes = wanted?.trainees[0];
  const person = page.told.people.find((p) => p.trainee === who);
  const { now, next } = whereAt(person?.slots ?? [], minute);
  const ready =
    person && now
      ? () =>
          happenInClass(
            page.id,
            { kind: "ready", trainee: person.trainee },
            `class: ${person.short} is ready early`,
          )
      : undefined;
  const onEyes = eyes ? () => void go(`/floor?who=${eyes}`, { replace: true }) : undefined;
  useKeys({ e: onEyes });
  const behind = behindTheClock(session, now?.sheet_slots ?? []);
  return (
    <section
      aria-label="The class"
      className="mb-4 grid gap-x-6 gap-y-2 border-l-4 border-blue bg-sheet px-4 py-2 sm:grid-cols-[minmax(0,1fr)_auto] sm:items-center"
    >
      <div className="min-w-0">
        <p>
          <Link to={`/class/${page.id}`} className="font-head text-lg font-bold underline">
            Class {hourAt(page.time, minute)}
            {page.held_since ? ", held" : ""}
          </Link>{" "}
          {wanted
            ? wanted.start_min <= minute
              ? `Hands: ${[wanted.who, wanted.place].filter(Boolean).join(", ")}, ${wanted.what}.`
              : `Hands in ${leftOf(wanted.start_min - minute)}: ${wanted.who}, ${wanted.what}.`
            : "Nobody waits for hands."}
        </p>
        {person && (
          <p className="text-soft">
            {now
              ? `${person.short} to ${hourAt(page.time, now.end_min)}: ${[now.title, now.place].filter(Boolean).join(", ")}.`
              : `${person.short} is between two blocks.`}
            {next &&
              ` Then ${hourAt(page.time, next.start_min)} ${[next.title, next.place].filter(Boolean).join(", ")}.`}
          </p>
        )}
      </div>
      <div className="flex flex-wrap gap-2">
        {behind && (
          <Button live kind="act" onClick={behind.goOn}>
            Go on to {behind.title}
          </Button>
        )}
        {ready && (
          <Button live onClick={ready}>
            Ready early
          </Button>
        )}
        {onEyes && eyes !== who && (
          <Button live keycap="E" onClick={onEyes}>
            To {wanted?.who}
          </Button>
        )}
      </div>
    </section>
  );
}

/** Where the clock has gone on and the session has not: what leads it there. What has no set yet is left out, the rest is done. */
function behindTheClock(id: string, slots: readonly number[]) {
  const first = slots[0];
  const session = id ? (presentSession(id) ?? confirmedSession(id)) : null;
  if (first === undefined || !session || session.endedAs) return null;
  const place = whereSession(session);
  if (place.present === null || place.present >= first) return null;
  const key = place.slots[first]?.key ?? "";
  const goOn = () => {
    for (let n = place.present ?? 0; n < first; n++) {
      const slot = place.slots[n];
      if (slot?.status !== "waiting") continue;
      const prepares = session.sheet.slots[n]?.kind !== "work";
      const kind = slot.done > 0 || prepares ? "next" : "skip";
      happen(
        session,
        { kind, slot: n },
        `${session.sheet.variants[slot.key]?.title} ${kind === "next" ? "done" : "left out"}, by the class's clock`,
      );
    }
  };
  return { title: session.sheet.variants[key]?.title ?? "the next block", goOn };
}
