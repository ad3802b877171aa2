import { Link } from "react-router";
import { useKeptLines } from "../../api/line";
import { dayMonth } from "../../parts/words";
import { OutlineOf } from "./OutlineOf";

interface Props {
  trainee: string;
  /** Of these drills alone; of all without them. */
  drills?: string[];
  most: number;
  heading: string;
}

/** The newest kept lines as outlines: they stand for pictures that are never kept. Nothing where none is kept. */
export function Outlines({ trainee, drills, most, heading }: Props) {
  const kept = useKeptLines(trainee);
  const lines = (kept.data ?? []).filter((line) => !drills || drills.includes(line.drill)).slice(0, most);
  if (lines.length === 0) return null;
  return (
    <section aria-label={heading} className="break-inside-avoid">
      <h2 className="text-xl">{heading}</h2>
      <ul className="mt-1 flex flex-wrap gap-x-5 gap-y-3">
        {lines.map((line) => (
          <li key={line.id} className="grid w-32 content-start justify-items-start text-sm">
            <OutlineOf
              height={120}
              label={`${line.title}, from the ${line.view}, ${dayMonth(line.day)}`}
              outlines={[{ outline: line.outline, colour: "var(--ink)" }]}
            />
            <Link
              to={`/trainees/${trainee}/line?drill=${line.drill}&view=${line.view}`}
              className="leading-tight underline"
            >
              {line.title}
            </Link>
            <span className="text-soft">
              {dayMonth(line.day)}, {line.view}
            </span>
            <span className="leading-tight">{line.said.heading}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
