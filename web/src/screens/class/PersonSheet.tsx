import { useState } from "react";
import { Link } from "react-router";
import type { ClassPage, ClassPerson } from "../../api/client";
import { happenInClass, whereAt } from "../../live/classNight";
import { Button, buttonLook } from "../../parts/Button";
import { Sheet } from "../../parts/Sheet";
import { hourAt } from "./clockWords";

interface Props {
  page: ClassPage;
  person: ClassPerson;
  minute: number | null;
  /** Whether to ask at once where it hurts. */
  hurts?: boolean;
  onClose: () => void;
}

/** What can happen to somebody in an evening: each is one tap, and the rest follows. */
export function PersonSheet({ page, person, minute, hurts = false, onClose }: Props) {
  const [asking, ask] = useState(hurts);
  const going = minute !== null && !page.closed_at;
  const { now, next } = whereAt(person.slots, minute ?? 0);
  const say = (what: Parameters<typeof happenInClass>[1], words: string) => {
    happenInClass(page.id, { trainee: person.trainee, ...what }, `class: ${person.short} ${words}`);
    onClose();
  };
  return (
    <Sheet
      open
      side
      onClose={onClose}
      title={person.name}
      about={`${person.planned ? "With the session planned for this day." : "With a session made for this evening."} Waits ${Math.round(person.waited_min)} min in all.`}
    >
      {going && (
        <p className="mb-3 text-lg">
          {now ? (
            <>
              <b>{now.title}</b>
              {now.place && `, ${now.place}`}, to {hourAt(page.time, now.end_min)}
              {now.dose && ` · ${now.dose}`}
            </>
          ) : (
            "Between two blocks."
          )}
          {next && (
            <span className="block text-base text-soft">
              Then {next.title}
              {next.place && `, ${next.place}`}, {hourAt(page.time, next.start_min)}
            </span>
          )}
        </p>
      )}
      {asking ? (
        <Hurts
          page={page}
          onPain={(joint, level, sharp) => say({ kind: "pain", joint, level, sharp }, `hurts, ${joint}`)}
        />
      ) : (
        <div className="grid gap-3">
          <Link to={`/floor?who=${person.trainee}`} className={buttonLook("act", true)}>
            Open on the Floor
          </Link>
          {going && now && (
            <>
              <Button live keycap="R" onClick={() => say({ kind: "ready" }, "is ready early")}>
                Ready early
              </Button>
              <Button
                live
                keycap="O"
                onClick={() => say({ kind: "over", minutes: page.over_min }, "takes longer")}
              >
                Takes {page.over_min} min longer
              </Button>
            </>
          )}
          {going && (
            <Button live kind="danger" keycap="P" onClick={() => ask(true)}>
              Pain: stop
            </Button>
          )}
          {!page.closed_at && (
            <div className="flex flex-wrap gap-3">
              <Button onClick={() => say({ kind: "arrive", minutes: 0 }, "comes now")}>Comes now</Button>
              <Button onClick={() => say({ kind: "arrive", minutes: 10 }, "comes in 10 min")}>
                Comes in 10 min
              </Button>
              <Button onClick={() => say({ kind: "leave" }, "goes home")}>Goes home</Button>
            </div>
          )}
        </div>
      )}
      {person.gone.length > 0 && (
        <>
          <h3 className="mt-5 text-lg">Not this evening</h3>
          <ul>
            {person.gone.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        </>
      )}
    </Sheet>
  );
}

const LEVELS = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10];

/** Where it hurts and how much; from the level that stops, what loads the joint is left out. */
function Hurts({
  page,
  onPain,
}: {
  page: ClassPage;
  onPain: (joint: string, level: number, sharp: boolean) => void;
}) {
  const [joint, setJoint] = useState("");
  const [sharp, setSharp] = useState(false);
  return (
    <div>
      <h3 className="mb-1 text-lg">Where does it hurt?</h3>
      <div className="mb-4 flex flex-wrap gap-2">
        {page.joints.map((j) => (
          <Button
            key={j}
            aria-pressed={joint === j}
            kind={joint === j ? "danger" : "plain"}
            onClick={() => setJoint(j)}
          >
            {j}
          </Button>
        ))}
      </div>
      {joint && (
        <>
          <label className="mb-3 flex min-h-11 items-center gap-3">
            <input
              type="checkbox"
              className="size-5"
              checked={sharp}
              onChange={(event) => setSharp(event.target.checked)}
            />
            Sharp, lasting or tingling
          </label>
          <h3 className="mb-1 text-lg">How much, of 10?</h3>
          <div className="grid grid-cols-5 gap-2">
            {LEVELS.map((level) => (
              <Button key={level} live onClick={() => onPain(joint, level, sharp)}>
                {level}
              </Button>
            ))}
          </div>
          <p className="mt-3 border-l-4 border-brick bg-sheet px-3 py-2 text-sm">
            From {page.stops_at} on, or where it is sharp, everything that loads the {joint} is left out this
            evening. It is kept with the trainee's pain. Where a session runs on the Floor, say it there too.
            A coach's record, not medical advice: sharp or lasting pain belongs before a licensed
            practitioner. The venue's rules come first.
          </p>
        </>
      )}
    </div>
  );
}
