import { type FormEvent, useState } from "react";
import type { PlanPage } from "../../api/client";
import type { WishSent } from "../../api/hooks";
import { Button } from "../../parts/Button";
import { Sheet } from "../../parts/Sheet";
import { capital, shifted, weekdayLong } from "../../parts/words";
import { dayMoved } from "./edits";

interface Props {
  page: PlanPage;
  wish: WishSent;
  onClose: () => void;
  onEdit: (wish: WishSent, words: string) => void;
}

/** Which days, where, for how long and when; and what kit is at each place. */
export function DaysForm({ page, wish, onClose, onEdit }: Props) {
  const [draft, setDraft] = useState(wish);
  const places = Object.keys(draft.kit);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    onEdit(
      { ...draft, pins: draft.pins.filter((p) => draft.days.some((d) => d.day === p.day)) },
      "days changed",
    );
    onClose();
  };
  return (
    <Sheet open side onClose={onClose} title="Days" about="The rest is planned around them.">
      <form onSubmit={submit}>
        <ul>
          {Array.from({ length: 7 }, (_, n) => shifted(page.week, n)).map((day) => (
            <DayRow
              key={day}
              day={day}
              draft={draft}
              past={day < page.on}
              places={places}
              usualMinutes={page.usual_minutes}
              onDraft={setDraft}
            />
          ))}
        </ul>
        {places.map((place) => (
          <details key={place} className="mt-3 border-t border-rule pt-2">
            <summary className="min-h-11 cursor-pointer py-2 font-bold">
              {capital(place)}: {draft.kit[place]?.length} sorts of kit
            </summary>
            <ul className="grid grid-cols-2">
              {Object.entries(page.kit_words).map(([kit, words]) => (
                <li key={kit}>
                  <label className="flex min-h-11 items-center gap-2">
                    <input
                      type="checkbox"
                      className="h-5 w-5 accent-blue"
                      checked={draft.kit[place]?.includes(kit) ?? false}
                      onChange={() => setDraft(kitFlipped(draft, place, kit))}
                    />
                    {words}
                  </label>
                </li>
              ))}
            </ul>
            {!HALL_AND_HOME.includes(place) && (
              <Button
                disabled={draft.days.some((d) => d.place === place)}
                onClick={() => {
                  const { [place]: _, ...kit } = draft.kit;
                  setDraft({ ...draft, kit });
                }}
              >
                Take {place} out
              </Button>
            )}
          </details>
        ))}
        <NewPlace
          places={places}
          onAdd={(place) => setDraft({ ...draft, kit: { ...draft.kit, [place]: [] } })}
        />
        <Button type="submit" kind="act" live className="mt-5">
          Plan around these days
        </Button>
      </form>
    </Sheet>
  );
}

/** The two places there always are. */
const HALL_AND_HOME = ["hall", "home"];
/** As many places as a week can name. */
const MOST_PLACES = 12;

/** A place beyond hall and home: a park, another hall. Its kit is ticked like theirs, and it stays for the next weeks. */
function NewPlace({ places, onAdd }: { places: string[]; onAdd: (place: string) => void }) {
  const [name, setName] = useState("");
  const said = name.trim().toLowerCase();
  if (places.length >= MOST_PLACES) return null;
  return (
    <div className="mt-3 flex items-end gap-3 border-t border-rule pt-3">
      <label className="flex-1">
        <span className="mb-1 block font-bold">Another place</span>
        <input
          className="field"
          maxLength={40}
          value={name}
          placeholder="park"
          onChange={(event) => setName(event.target.value)}
        />
      </label>
      <Button
        disabled={said === "" || places.includes(said)}
        onClick={() => {
          onAdd(said);
          setName("");
        }}
      >
        Add it
      </Button>
    </div>
  );
}

function kitFlipped(draft: WishSent, place: string, kit: string): WishSent {
  const there = draft.kit[place] ?? [];
  const items = there.includes(kit) ? there.filter((k) => k !== kit) : [...there, kit];
  return { ...draft, kit: { ...draft.kit, [place]: items } };
}

interface RowProps {
  day: string;
  draft: WishSent;
  past: boolean;
  places: string[];
  usualMinutes: number;
  onDraft: (wish: WishSent) => void;
}

function DayRow({ day, draft, past, places, usualMinutes, onDraft }: RowProps) {
  const wished = draft.days.find((d) => d.day === day);
  const name = weekdayLong(day);
  const flip = () =>
    onDraft({
      ...draft,
      days: wished
        ? draft.days.filter((d) => d.day !== day)
        : [...draft.days, { day, place: places[0] ?? "hall", minutes: usualMinutes, time: "" }],
    });
  const change = (part: Partial<WishSent["days"][number]>) =>
    onDraft({ ...draft, days: draft.days.map((d) => (d.day === day ? { ...d, ...part } : d)) });
  const free = Array.from({ length: 7 }, (_, n) => shifted(draft.week, n)).filter(
    (d) => !draft.days.some((x) => x.day === d),
  );
  return (
    <li className="border-b border-rule py-2">
      <label className="flex min-h-11 items-center gap-3 font-bold">
        <input
          type="checkbox"
          className="h-6 w-6 accent-blue"
          checked={wished !== undefined}
          disabled={past}
          onChange={flip}
        />
        {name}
        {past && <span className="font-normal text-soft">over</span>}
      </label>
      {wished && !past && (
        <div className="grid grid-cols-3 gap-2 pb-1">
          <label className="text-sm">
            Where
            <select
              className="field"
              value={wished.place}
              onChange={(event) => change({ place: event.target.value })}
            >
              {places.map((place) => (
                <option key={place}>{place}</option>
              ))}
            </select>
          </label>
          <label className="text-sm">
            Minutes
            <input
              className="field"
              type="number"
              min={5}
              max={240}
              required
              value={wished.minutes}
              onChange={(event) => change({ minutes: Number(event.target.value) })}
            />
          </label>
          <label className="text-sm">
            At
            <input
              className="field"
              type="time"
              value={wished.time}
              onChange={(event) => change({ time: event.target.value })}
            />
          </label>
          {free.length > 0 && (
            <label className="col-span-3 text-sm">
              Move {name} to
              <select
                className="field"
                value=""
                onChange={(event) => event.target.value && onDraft(dayMoved(draft, day, event.target.value))}
              >
                <option value="">stays</option>
                {free.map((d) => (
                  <option key={d} value={d}>
                    {weekdayLong(d)}
                  </option>
                ))}
              </select>
            </label>
          )}
        </div>
      )}
    </li>
  );
}
