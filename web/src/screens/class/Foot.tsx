import type { ClassPage } from "../../api/client";
import { Button } from "../../parts/Button";
import { leftOf } from "./clockWords";

interface Props {
  page: ClassPage;
  /** What the clock says; null before it runs. */
  minute: number | null;
  onEyes: (() => void) | undefined;
}

/** What is loudest: whom the hands are for now, who goes where next, and what does not fit. */
export function Foot({ page, minute: said, onEyes }: Props) {
  const { told } = page;
  const begun = said !== null;
  const minute = said ?? -1;
  const hands = told.hands.filter((h) => h.start_min <= minute && minute < h.end_min);
  const later = told.hands.find((h) => h.start_min > minute);
  const next = told.changes.find((c) => c.at_min > minute);
  return (
    <div className="mt-4 grid gap-x-8 gap-y-4 border-t border-rule pt-3 md:grid-cols-3">
      <section aria-label="Your hands, now" className="border-l-4 border-blue pl-4">
        <h2 className="font-sans text-sm font-normal text-soft">Your hands, now</h2>
        {hands.length ? (
          hands.map((h) => (
            <p key={`${h.coach} ${h.start_min}`}>
              <b className="block font-head text-2xl leading-tight">
                {[h.who, h.place].filter(Boolean).join(", ")}: {h.what}
              </b>
              <span className="text-soft">
                {h.why} · {leftOf(h.end_min - minute)} left
                {page.coaches.length > 1 ? ` · ${page.coaches[h.coach]?.split(" ")[0]}` : ""}
              </span>
            </p>
          ))
        ) : (
          <p className="text-lg">
            {begun && "Nobody. "}
            {later &&
              `${later.who} ${begun ? `in ${leftOf(later.start_min - minute)}` : "first"}: ${later.what}, ${later.why}.`}
          </p>
        )}
        {onEyes && (
          <Button className="mt-2" keycap="E" onClick={onEyes}>
            To who needs eyes
          </Button>
        )}
      </section>
      <section aria-label="Next" aria-live="off">
        <h2 className="font-sans text-sm font-normal text-soft">
          {begun && next ? `Next, in ${leftOf(next.at_min - minute)}` : begun ? "Next" : "It begins with"}
        </h2>
        <p className="font-head text-xl font-bold leading-tight">{next?.words ?? "Everybody is through."}</p>
      </section>
      <section aria-label="Does not fit">
        <h2 className="font-sans text-sm font-normal text-soft">Does not fit</h2>
        {told.left_out.length === 0 ? (
          <p>Everything fits.</p>
        ) : (
          <>
            <ul>
              {told.left_out.map((words) => (
                <li key={words}>{words}</li>
              ))}
            </ul>
            <ul className="mt-1 text-soft">
              {told.would_help.map((words) => (
                <li key={words}>{words}</li>
              ))}
            </ul>
          </>
        )}
        {told.together.map((words) => (
          <p key={words} className="mt-1 text-soft">
            {words}
          </p>
        ))}
      </section>
    </div>
  );
}
