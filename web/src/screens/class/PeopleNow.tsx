import type { ClassPage, ClassPerson } from "../../api/client";
import { whereAt } from "../../live/classNight";
import { hourAt, leftOf } from "./clockWords";

interface Props {
  page: ClassPage;
  minute: number;
  onPerson: (person: ClassPerson) => void;
}

/** On a phone: one line a trainee, where they are, for how long yet, and where they go next. */
export function PeopleNow({ page, minute, onPerson }: Props) {
  return (
    <ul aria-label="Who is where" className="sm:hidden">
      {page.told.people.map((person) => {
        const { now, next } = whereAt(person.slots, minute);
        return (
          <li key={person.trainee}>
            <button
              type="button"
              className="grid min-h-16 w-full grid-cols-[minmax(0,1fr)_auto] items-center gap-x-3 border-b border-rule py-1 text-left"
              onClick={() => onPerson(person)}
            >
              <span className="min-w-0">
                <span className="block font-head text-lg font-bold leading-tight">{person.short}</span>
                <span className="block truncate">
                  {now ? [now.place, now.title].filter(Boolean).join(": ") : next ? "waits" : "through"}
                </span>
                <span className="block truncate text-sm text-soft">
                  {next
                    ? `${hourAt(page.time, next.start_min)} ${[next.place, next.title].filter(Boolean).join(": ")}`
                    : ""}
                </span>
              </span>
              <span className="font-head text-xl font-bold tabular-nums">
                {now ? leftOf(now.end_min - minute) : ""}
              </span>
            </button>
          </li>
        );
      })}
    </ul>
  );
}
