import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { v7 as uuidv7 } from "uuid";
import type { useRooms } from "../../api/classNight";
import { ask, client } from "../../api/client";
import { useGroups } from "../../api/hall";
import { useOnTheFloor, useTrainees } from "../../api/hooks";
import { useHallDay, useMe } from "../../api/me";
import { Button } from "../../parts/Button";
import { Field } from "../../parts/Field";
import { Problem } from "../../parts/Message";
import { fits } from "../../parts/names";
import { Sheet } from "../../parts/Sheet";

interface Comes {
  from_min: number;
  to_min: number | null;
}

interface Props {
  page: NonNullable<ReturnType<typeof useRooms>["data"]>;
  onClose: () => void;
}

/** An evening to lay out: who comes, when, how long, in which room, with which coaches. */
export function NewClass({ page, onClose }: Props) {
  const go = useNavigate();
  const queries = useQueryClient();
  const me = useMe().data;
  const today = useHallDay();
  const trainees = useTrainees();
  const groups = useGroups();
  const planned = (useOnTheFloor(today).data ?? []).filter((x) => x.planned).map((x) => x.trainee.id);
  const [id] = useState(() => uuidv7());
  const [coming, setComing] = useState<ReadonlyMap<string, Comes>>(new Map());
  const [typed, type] = useState("");
  const [error, setError] = useState<unknown>(null);
  const add = (who: readonly string[]) =>
    setComing(
      new Map([
        ...coming,
        ...who.filter((t) => !coming.has(t)).map((t) => [t, { from_min: 0, to_min: null }] as const),
      ]),
    );
  const flip = (trainee: string) => {
    const next = new Map(coming);
    if (!next.delete(trainee)) next.set(trainee, { from_min: 0, to_min: null });
    setComing(next);
  };
  const put = (trainee: string, part: Partial<Comes>) =>
    setComing(new Map(coming).set(trainee, { from_min: 0, to_min: null, ...coming.get(trainee), ...part }));
  const save = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const text = (name: string) => String(form.get(name) ?? "");
    ask(
      client.POST("/api/classes", {
        body: {
          id,
          day: text("day"),
          time: text("time"),
          minutes: Number(text("minutes")),
          room: text("room"),
          coaches: text("coaches")
            .split(",")
            .map((n) => n.trim())
            .filter(Boolean),
          people: [...coming].map(([trainee, comes]) => ({ trainee, ...comes })),
        },
      }),
    ).then(() => {
      void queries.invalidateQueries({ queryKey: ["classes"] });
      void go(`/class/${id}`);
    }, setError);
  };
  const shown = (trainees.data ?? []).filter((t) => coming.has(t.id) || fits(t.name, typed));
  return (
    <Sheet open side onClose={onClose} title="Lay an evening out">
      <form onSubmit={save}>
        {error !== null && <Problem error={error} />}
        <div className="grid grid-cols-2 gap-x-3">
          <Field label="Day">
            {(field) => (
              <input id={field} type="date" name="day" required className="field" defaultValue={today} />
            )}
          </Field>
          <Field label="From">
            {(field) => (
              <input id={field} type="time" name="time" required className="field" defaultValue="18:00" />
            )}
          </Field>
          <Field label="Minutes">
            {(field) => (
              <input
                id={field}
                type="number"
                name="minutes"
                min={10}
                max={480}
                required
                className="field"
                defaultValue={page.usual_min}
              />
            )}
          </Field>
          <Field label="Room">
            {(field) => (
              <select id={field} name="room" className="field">
                {page.rooms.map((r) => (
                  <option key={r.id} value={r.id}>
                    {r.name}
                  </option>
                ))}
              </select>
            )}
          </Field>
        </div>
        <Field label="Coaches on duty, with commas">
          {(field) => (
            <input
              id={field}
              name="coaches"
              required
              maxLength={400}
              className="field"
              defaultValue={me?.name ?? ""}
            />
          )}
        </Field>
        <fieldset className="mb-4">
          <legend className="mb-1 font-bold">Who comes ({coming.size})</legend>
          <div className="mb-2 flex flex-wrap gap-2">
            {planned.length > 0 && <Button onClick={() => add(planned)}>Planned today</Button>}
            {groups.data?.map((group) => (
              <Button key={group.id} onClick={() => add(group.members)}>
                {group.name}
              </Button>
            ))}
          </div>
          <input
            aria-label="Find a name"
            placeholder="find a name"
            className="field mb-2"
            value={typed}
            onChange={(event) => type(event.target.value)}
          />
          <ul className="max-h-72 overflow-y-auto">
            {shown.map((t) => {
              const comes = coming.get(t.id);
              return (
                <li key={t.id} className="border-b border-rule">
                  <label className="flex min-h-11 items-center gap-3">
                    <input
                      type="checkbox"
                      className="size-5"
                      checked={comes !== undefined}
                      onChange={() => flip(t.id)}
                    />
                    {t.name}
                  </label>
                  {comes && (
                    <div className="mb-2 flex items-center gap-2 pl-8 text-sm">
                      from minute
                      <input
                        aria-label={`${t.name} comes at minute`}
                        type="number"
                        min={0}
                        max={480}
                        className="field w-20"
                        value={comes.from_min}
                        onChange={(event) => put(t.id, { from_min: Number(event.target.value) })}
                      />
                      to
                      <input
                        aria-label={`${t.name} leaves at minute`}
                        type="number"
                        min={1}
                        max={480}
                        placeholder="end"
                        className="field w-20"
                        value={comes.to_min ?? ""}
                        onChange={(event) =>
                          put(t.id, { to_min: event.target.value ? Number(event.target.value) : null })
                        }
                      />
                    </div>
                  )}
                </li>
              );
            })}
          </ul>
        </fieldset>
        <Button type="submit" kind="act" live disabled={coming.size === 0}>
          Lay it out
        </Button>
      </form>
    </Sheet>
  );
}
