import { useState } from "react";
import type { ClassPage, ClassPerson, ClassSlot } from "../../api/client";
import { happenInClass } from "../../live/classNight";
import { Button } from "../../parts/Button";
import { Sheet } from "../../parts/Sheet";
import { hourAt } from "./clockWords";

interface Props {
  page: ClassPage;
  person: ClassPerson;
  slot: ClassSlot;
  minute: number | null;
  onClose: () => void;
}

/** One block: what it is, and what a hand can do with it: another minute, another place, another person's turn. */
export function BlockSheet({ page, person, slot, minute, onClose }: Props) {
  const begun = minute !== null && slot.start_min <= minute;
  const over = minute !== null && slot.end_min <= minute;
  const say = (what: Parameters<typeof happenInClass>[1], words: string) => {
    happenInClass(page.id, what, `class: ${person.short}, ${words}`);
    onClose();
  };
  const of = { trainee: person.trainee, block: slot.block };
  const put = (by: number) =>
    say(
      { kind: "put", ...of, minutes: Math.max(0, slot.start_min + by), ...placeOf(page, slot) },
      `${slot.title} ${by > 0 ? "later" : "earlier"}`,
    );
  return (
    <Sheet
      open
      side
      onClose={onClose}
      title={`${person.short}: ${slot.title}`}
      about={[
        `${hourAt(page.time, slot.start_min)} to ${hourAt(page.time, slot.end_min)}`,
        slot.place || "where they stand",
        slot.dose,
      ]
        .filter(Boolean)
        .join(" · ")}
    >
      {slot.hands && (
        <p className="mb-3 border-l-4 border-blue pl-3">
          A coach is wanted until {hourAt(page.time, slot.hands[1] ?? slot.end_min)}: {slot.hands_why}.{" "}
          {page.told.caution}
        </p>
      )}
      {begun ? (
        <div className="grid gap-3">
          {!over && (
            <Button
              live
              kind="act"
              onClick={() => say({ kind: "ready", trainee: person.trainee }, "ready early")}
            >
              Ready early
            </Button>
          )}
          <Button
            live
            onClick={() =>
              say({ kind: "over", trainee: person.trainee, minutes: page.over_min }, "takes longer")
            }
          >
            Takes {page.over_min} min longer
          </Button>
        </div>
      ) : (
        <ToCome page={page} person={person} slot={slot} put={put} say={say} of={of} />
      )}
    </Sheet>
  );
}

/** The place that stays when only the minute changes; wherever somebody stands needs none. */
const placeOf = (page: ClassPage, slot: ClassSlot) =>
  slot.station in page.stations ? { station: slot.station, number: slot.number } : {};

interface ToComeProps {
  page: ClassPage;
  person: ClassPerson;
  slot: ClassSlot;
  put: (by: number) => void;
  say: (what: Parameters<typeof happenInClass>[1], words: string) => void;
  of: { trainee: string; block: number };
}

function ToCome({ page, person, slot, put, say, of }: ToComeProps) {
  const [other, setOther] = useState("");
  const places = Object.entries(page.stations).flatMap(([kind, count]) =>
    slot.station === kind ? Array.from({ length: count }, (_, n) => [kind, n + 1] as const) : [],
  );
  const others = page.told.people
    .filter((p) => p.trainee !== person.trainee)
    .flatMap((p) =>
      p.slots.filter((s) => s.start_min > 0 || p.slots.length === 1).map((s) => [p, s] as const),
    );
  return (
    <>
      <h3 className="mb-1 text-lg">Another minute</h3>
      <div className="mb-4 flex flex-wrap gap-3">
        {[-5, -1, 1, 5].map((by) => (
          <Button key={by} onClick={() => put(by)}>
            {by > 0 ? `${by} later` : `${-by} earlier`}
          </Button>
        ))}
      </div>
      {places.length > 0 && (
        <>
          <h3 className="mb-1 text-lg">Stay at</h3>
          <div className="mb-4 flex flex-wrap gap-3">
            {places.map(([kind, number]) => (
              <Button
                key={number}
                onClick={() => say({ kind: "put", ...of, station: kind, number }, `to ${kind} ${number}`)}
              >
                {places.length > 1 ? `${kind} ${number}` : kind}
              </Button>
            ))}
          </div>
        </>
      )}
      {slot.held && (
        <p className="mb-4">
          <Button onClick={() => say({ kind: "loose", ...of }, "no longer set by hand")}>
            Let it follow again
          </Button>
        </p>
      )}
      <label className="block">
        <span className="mb-1 block text-lg font-bold">Trade places with</span>
        <select className="field" value={other} onChange={(event) => setOther(event.target.value)}>
          <option value="">whose block?</option>
          {others.map(([p, s]) => (
            <option key={`${p.trainee} ${s.block}`} value={`${p.trainee} ${s.block}`}>
              {hourAt(page.time, s.start_min)} {p.short}: {s.title}
              {s.place ? `, ${s.place}` : ""}
            </option>
          ))}
        </select>
      </label>
      <p className="mt-3">
        <Button
          disabled={!other}
          onClick={() => {
            const [trainee = "", block = "0"] = other.split(" ");
            say({ kind: "swap", ...of, other: trainee, other_block: Number(block) }, "trades places");
          }}
        >
          Trade places
        </Button>
      </p>
    </>
  );
}
