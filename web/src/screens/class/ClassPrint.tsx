import { Link, useParams } from "react-router";
import { useClassPage } from "../../api/classNight";
import type { ClassPage, ClassPerson, ClassSlot } from "../../api/client";
import { Button, buttonLook } from "../../parts/Button";
import { Problem, Waiting } from "../../parts/Message";
import { dayMonth } from "../../parts/words";
import { hourAt } from "./clockWords";

/** An evening on paper: one line a station for the wall, and a card for each who has no phone. */
export function ClassPrint() {
  const { id = "" } = useParams();
  const { data: page, error, isPending } = useClassPage(id);
  if (!page) return isPending ? <Waiting /> : <Problem error={error} />;
  return (
    <>
      <div className="mb-6 flex flex-wrap gap-3 print:hidden">
        <Button kind="act" live onClick={() => window.print()}>
          Print, or save as PDF
        </Button>
        <Link to={`/class/${id}`} className={buttonLook("plain", true)}>
          Back to the class
        </Link>
      </div>
      <Wall page={page} />
      <div className="grid gap-6 sm:grid-cols-2 print:grid-cols-2">
        {page.told.people.map((person) => (
          <Card key={person.trainee} page={page} person={person} />
        ))}
      </div>
    </>
  );
}

const head = (page: ClassPage) => `${page.room}, ${dayMonth(page.day)}`;

/** Who is at each station when, a line a station. */
function Wall({ page }: { page: ClassPage }) {
  const stations = new Map<string, (readonly [ClassPerson, ClassSlot])[]>();
  for (const person of page.told.people)
    for (const slot of person.slots)
      if (slot.place)
        stations.set(slot.place, [...(stations.get(slot.place) ?? []), [person, slot] as const]);
  const inOrder = [...stations].sort(([a], [b]) => a.localeCompare(b));
  return (
    <article aria-label="For the wall" className="mb-8 print:break-after-page">
      <h1 className="mb-2 text-3xl">{head(page)}</h1>
      <table className="w-full border-collapse text-left">
        <tbody>
          <tr className="border-b-2 border-ink align-top">
            <th scope="row" className="w-36 py-2 pr-4 font-head text-xl">
              {page.coaches.map((c) => c.split(" ")[0]).join(", ")}
            </th>
            <td className="py-2">
              {page.told.hands.map((h) => (
                <span key={`${h.start_min} ${h.who}`} className="mr-4 inline-block">
                  <b>{hourAt(page.time, h.start_min)}</b> {h.who}: {h.what}
                </span>
              ))}
            </td>
          </tr>
          {inOrder.map(([place, turns]) => (
            <tr key={place} className="border-b border-rule align-top">
              <th scope="row" className="py-2 pr-4 font-head text-xl">
                {place}
              </th>
              <td className="py-2">
                {[...turns]
                  .sort((a, b) => a[1].start_min - b[1].start_min)
                  .map(([person, slot]) => (
                    <span key={`${person.trainee} ${slot.block}`} className="mr-4 inline-block">
                      <b>
                        {hourAt(page.time, slot.start_min)} to {hourAt(page.time, slot.end_min)}
                      </b>{" "}
                      {person.short}: {slot.test ? "test" : slot.title}
                    </span>
                  ))}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2 text-sm">{page.told.caution}</p>
    </article>
  );
}

/** One trainee's evening, to take along. */
function Card({ page, person }: { page: ClassPage; person: ClassPerson }) {
  return (
    <article aria-label={person.name} className="break-inside-avoid border border-ink p-4">
      <h2 className="text-2xl leading-tight">{person.name}</h2>
      <p className="mb-2 text-sm">{head(page)}</p>
      <ol>
        {person.slots.map((slot) => (
          <li key={slot.block} className="grid grid-cols-[3.25rem_minmax(0,1fr)] border-t border-rule py-1">
            <b>{hourAt(page.time, slot.start_min)}</b>
            <span>
              <b>{slot.place || "where you stand"}</b>: {slot.title}
              {slot.dose && <span className="block text-sm">{slot.dose}</span>}
              {slot.hands && <span className="block text-sm">Wait for the coach: {slot.hands_why}.</span>}
            </span>
          </li>
        ))}
      </ol>
    </article>
  );
}
