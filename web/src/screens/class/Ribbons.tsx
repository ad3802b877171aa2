import { type PointerEvent, useRef, useState } from "react";
import type { ClassPage, ClassPerson, ClassSlot } from "../../api/client";
import { hourAt } from "./clockWords";

interface Props {
  page: ClassPage;
  minute: number | null;
  chosen: string | null;
  onBlock: (person: ClassPerson, slot: ClassSlot) => void;
  onPerson: (person: ClassPerson) => void;
  /** A block was taken to another minute. */
  onDrag: (person: ClassPerson, slot: ClassSlot, toMin: number) => void;
}

/** Every ten minutes a line. */
const GRID_MIN = 10;
const SNAP_MIN = 0.5;
/** Narrower than this share of the evening no word stands along a block. */
const NARROW = 0.04;
/** A smaller move is a tap. */
const TAP_PX = 6;

/** An evening to scale: the coaches' ribbons on top, one a trainee below; waits are open, and therefore seen. */
export function Ribbons({ page, minute, chosen, onBlock, onPerson, onDrag }: Props) {
  const { told, time } = page;
  const whole = Math.max(page.minutes, ...told.people.flatMap((p) => p.slots.map((s) => s.end_min)));
  const at = (min: number) => `${(100 * min) / whole}%`;
  const hours = Array.from({ length: Math.floor(whole / GRID_MIN) + 1 }, (_, n) => n * GRID_MIN);
  return (
    <section aria-label="The evening" className="relative max-sm:hidden">
      <div aria-hidden="true" className="pointer-events-none absolute bottom-0 left-[7.75rem] right-0 top-6">
        {hours.map((min) => (
          <span key={min} className="absolute inset-y-0 border-l border-rule" style={{ left: at(min) }} />
        ))}
      </div>
      <div className="relative grid grid-cols-[7rem_minmax(0,1fr)] gap-x-3">
        <span />
        <div aria-hidden="true" className="relative h-6 text-xs text-faint">
          {hours.map((min) => (
            <span key={min} className="absolute -translate-x-1/2" style={{ left: at(min) }}>
              {hourAt(time, min)}
            </span>
          ))}
        </div>
        {page.coaches.map((coach, n) => (
          <Row key={coach} name={<span className="block truncate font-bold">{coach.split(" ")[0]}</span>}>
            {told.hands
              .filter((h) => h.coach === n)
              .map((h) => (
                <li
                  key={`${h.start_min} ${h.who}`}
                  className="absolute inset-y-0 overflow-hidden rounded-sm bg-blue px-1 text-xs leading-tight text-onblue"
                  style={{ left: at(h.start_min), width: `calc(${at(h.end_min - h.start_min)} - 2px)` }}
                >
                  <Words
                    narrow={(h.end_min - h.start_min) / whole < NARROW}
                    first={h.who}
                    second={h.what}
                    upright={h.who}
                  />
                </li>
              ))}
          </Row>
        ))}
        {told.people.map((person, n) => (
          <Row
            key={person.trainee}
            lit={chosen === person.trainee}
            name={
              <button
                type="button"
                className="flex min-h-10 w-full items-center gap-2 text-left font-bold hover:underline"
                aria-pressed={chosen === person.trainee}
                onClick={() => onPerson(person)}
              >
                {n < 9 && (
                  <span aria-hidden="true" className="w-3 text-xs font-normal text-faint">
                    {n + 1}
                  </span>
                )}
                <span className="truncate">{person.short}</span>
              </button>
            }
          >
            {person.slots.map((slot) => (
              <Block
                key={slot.block}
                person={person}
                slot={slot}
                whole={whole}
                minute={minute}
                onTap={() => onBlock(person, slot)}
                onDrag={(to) => onDrag(person, slot, to)}
              />
            ))}
          </Row>
        ))}
      </div>
      {minute !== null && (
        <div
          aria-hidden="true"
          className="pointer-events-none absolute bottom-0 left-[7.75rem] right-0 top-6"
        >
          <span
            className="absolute inset-y-0 w-1 -translate-x-1/2 rounded bg-blue before:absolute before:-top-1 before:left-1/2 before:-translate-x-1/2 before:border-x-8 before:border-t-8 before:border-x-transparent before:border-t-blue"
            style={{ left: at(Math.min(minute, whole)) }}
          />
        </div>
      )}
    </section>
  );
}

function Row({
  name,
  lit = false,
  children,
}: {
  name: React.ReactNode;
  lit?: boolean;
  children: React.ReactNode;
}) {
  return (
    <>
      <div className="flex items-center">{name}</div>
      <ol className={`relative my-0.5 h-10 ${lit ? "bg-tint" : ""}`}>{children}</ol>
    </>
  );
}

interface BlockProps {
  person: ClassPerson;
  slot: ClassSlot;
  whole: number;
  minute: number | null;
  onTap: () => void;
  onDrag: (toMin: number) => void;
}

interface WordsProps {
  narrow: boolean;
  first: string;
  second: string;
  upright: string;
}

/** What stands on a block; where there is no room one of it stands upright: the place, which is what is walked to. */
function Words({ narrow, first, second, upright }: WordsProps) {
  if (narrow)
    return (
      <span className="absolute inset-0 flex items-center overflow-hidden whitespace-nowrap py-0.5 text-[0.6875rem] font-bold leading-none [writing-mode:vertical-rl] rotate-180">
        {upright}
      </span>
    );
  return (
    <>
      <b className="block truncate">{first}</b>
      <span className="block truncate">{second}</span>
    </>
  );
}

/** A block at its place: to tap, or to take to another minute while it has not begun. */
function Block({ person, slot, whole, minute, onTap, onDrag }: BlockProps) {
  const [moved, setMoved] = useState(0);
  const from = useRef<{ x: number; width: number } | null>(null);
  const begun = minute !== null && slot.start_min <= minute;
  const over = minute !== null && slot.end_min <= minute;
  const minutesOf = (event: PointerEvent) =>
    from.current ? ((event.clientX - from.current.x) / from.current.width) * whole : 0;
  const light = !slot.place || over;
  const narrow = (slot.end_min - slot.start_min) / whole < NARROW;
  const down = (event: PointerEvent<HTMLButtonElement>) => {
    const band = event.currentTarget.closest("ol");
    if (begun || !band) return;
    from.current = { x: event.clientX, width: band.getBoundingClientRect().width };
    event.currentTarget.setPointerCapture(event.pointerId);
  };
  const up = (event: PointerEvent<HTMLButtonElement>) => {
    const far = from.current && Math.abs(event.clientX - from.current.x) > TAP_PX;
    const by = minutesOf(event);
    from.current = null;
    setMoved(0);
    if (far) onDrag(Math.max(0, Math.round((slot.start_min + by) / SNAP_MIN) * SNAP_MIN));
    else onTap();
  };
  return (
    <li
      className="absolute inset-y-0"
      style={{
        left: `${(100 * (slot.start_min + moved)) / whole}%`,
        width: `calc(${(100 * (slot.end_min - slot.start_min)) / whole}% - 2px)`,
        zIndex: moved ? 5 : undefined,
      }}
    >
      <button
        type="button"
        className={`block h-full w-full touch-none overflow-hidden rounded-sm border border-darkwood px-1 text-left text-xs leading-tight ${
          light ? "bg-lightwood text-ink" : "bg-wood text-onwood"
        } ${moved ? "outline-3 outline-blue" : ""}`}
        onPointerDown={down}
        onPointerMove={(event) => from.current && setMoved(minutesOf(event))}
        onPointerUp={(event) => (from.current ? up(event) : onTap())}
        onPointerCancel={() => {
          from.current = null;
          setMoved(0);
        }}
        onKeyDown={(event) => {
          if (event.key === "Enter" || event.key === " ") {
            event.preventDefault();
            onTap();
          }
          if (event.shiftKey && !begun && (event.key === "ArrowLeft" || event.key === "ArrowRight")) {
            event.preventDefault();
            onDrag(Math.max(0, slot.start_min + (event.key === "ArrowRight" ? 1 : -1)));
          }
        }}
      >
        {slot.hands && <span aria-hidden="true" className="absolute inset-x-0 top-0 h-1 bg-blue" />}
        <span className="sr-only">
          {person.short}: {narrow && slot.place ? slot.title : ""}{" "}
        </span>
        <Words
          narrow={narrow}
          first={`${slot.held ? "◆ " : ""}${slot.title}`}
          second={slot.place}
          upright={slot.place || slot.title}
        />
        <span className="sr-only">
          {` minute ${Math.round(slot.start_min)} to ${Math.round(slot.end_min)}${slot.held ? ", set by hand" : ""}${slot.hands ? ", wants a coach" : ""}`}
        </span>
      </button>
    </li>
  );
}
