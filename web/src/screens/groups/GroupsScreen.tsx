import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type Evening, type TrainingGroup } from "../../api/client";
import { useGroups } from "../../api/hall";
import { useTrainees } from "../../api/hooks";
import { Button, buttonLook } from "../../parts/Button";
import { TextField } from "../../parts/Field";
import { Message, Problem, Waiting } from "../../parts/Message";
import { fits } from "../../parts/names";
import { Sheet } from "../../parts/Sheet";
import { count } from "../../parts/words";
import { eveningsInWords, WEEKDAYS } from "./evenings";

/** Groups: who comes together, and on which evenings. */
export function GroupsScreen() {
  const groups = useGroups();
  const trainees = useTrainees();
  const queries = useQueryClient();
  const [open, setOpen] = useState<TrainingGroup | "new" | null>(null);
  const [gone, setGone] = useState<TrainingGroup | null>(null);
  const [error, setError] = useState<unknown>(null);
  if (groups.isPending || trainees.isPending) return <Waiting />;
  if (!groups.data || !trainees.data) return <Problem error={groups.error ?? trainees.error} />;
  const names = new Map(trainees.data.map((t) => [t.id, t.name]));
  const again = () => queries.invalidateQueries({ queryKey: ["groups"] });
  const restore = (group: TrainingGroup) =>
    ask(client.POST("/api/groups/{id}/restore", { params: { path: { id: group.id } } }))
      .then(() => setGone(null), setError)
      .then(again);
  return (
    <>
      <div className="mb-4 flex flex-wrap items-end justify-between gap-4">
        <h1 className="text-[2.125rem] leading-tight">Groups</h1>
        <Button least="coach" onClick={() => setOpen("new")}>
          Add a group
        </Button>
      </div>
      {error !== null && <Problem error={error} />}
      {gone && (
        <Message>
          {gone.name} is struck out. Its trainees stay.{" "}
          <button type="button" className="underline" onClick={() => void restore(gone)}>
            Bring it back
          </button>
        </Message>
      )}
      {groups.data.length === 0 && (
        <Message>No group yet. A group has a name, its evenings, and who comes.</Message>
      )}
      <ul>
        {groups.data.map((group) => (
          <li
            key={group.id}
            className="grid gap-x-6 gap-y-1 border-b border-rule py-3 sm:grid-cols-[14rem_1fr_auto]"
          >
            <div>
              <h2 className="text-lg">{group.name}</h2>
              <p className="text-sm text-soft">{eveningsInWords(group.evenings)}</p>
            </div>
            <p>
              {group.members
                .map((id) => names.get(id))
                .filter(Boolean)
                .join(", ") || "Nobody yet."}
            </p>
            <div className="flex flex-wrap items-start gap-3">
              <Link to={`/?group=${group.id}`} className={buttonLook("plain")}>
                On Today
              </Link>
              <Button least="coach" aria-label={`Change: ${group.name}`} onClick={() => setOpen(group)}>
                Change
              </Button>
            </div>
          </li>
        ))}
      </ul>
      {open && (
        <GroupForm
          group={open === "new" ? null : open}
          trainees={trainees.data}
          onClose={() => setOpen(null)}
          onKept={() => void again().then(() => setOpen(null))}
          onStruck={(group) => {
            setGone(group);
            setOpen(null);
            void again();
          }}
        />
      )}
    </>
  );
}

interface FormProps {
  group: TrainingGroup | null;
  trainees: readonly { id: string; name: string }[];
  onClose: () => void;
  onKept: () => void;
  onStruck: (group: TrainingGroup) => void;
}

function GroupForm({ group, trainees, onClose, onKept, onStruck }: FormProps) {
  const [id] = useState(() => group?.id ?? uuidv7());
  const [evenings, setEvenings] = useState<Evening[]>(
    group?.evenings ?? [{ weekday: 1, time: "18:30", minutes: 90 }],
  );
  const [members, setMembers] = useState<ReadonlySet<string>>(new Set(group?.members));
  const [typed, type] = useState("");
  const [error, setError] = useState<unknown>(null);
  const put = (n: number, part: Partial<Evening>) =>
    setEvenings(evenings.map((e, k) => (k === n ? { ...e, ...part } : e)));
  const flip = (trainee: string) => {
    const next = new Set(members);
    if (!next.delete(trainee)) next.add(trainee);
    setMembers(next);
  };
  const save = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const name = String(new FormData(event.currentTarget).get("name"));
    const body = { name, evenings, members: [...members] };
    const kept = group
      ? ask(client.PUT("/api/groups/{id}", { params: { path: { id } }, body }))
      : ask(client.POST("/api/groups", { body: { id, ...body } }));
    kept.then(onKept, setError);
  };
  const strike = (struck: TrainingGroup) =>
    ask(client.POST("/api/groups/{id}/strike", { params: { path: { id } } })).then(
      () => onStruck(struck),
      setError,
    );
  const shown = trainees.filter((t) => fits(t.name, typed));
  return (
    <Sheet open side onClose={onClose} title={group ? `Change ${group.name}` : "Add a group"}>
      <form onSubmit={save}>
        {error !== null && <Problem error={error} />}
        <TextField label="Name" name="name" required value={group?.name} />
        <fieldset className="mb-4">
          <legend className="mb-1 font-bold">Evenings</legend>
          {evenings.map((evening, n) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: an evening has no id, and is told apart by its place
            <div key={n} className="mb-2 flex flex-wrap items-center gap-2">
              <select
                aria-label="Day"
                className="field w-auto"
                value={evening.weekday}
                onChange={(event) => put(n, { weekday: Number(event.target.value) })}
              >
                {WEEKDAYS.map((name, day) => (
                  <option key={name} value={day}>
                    {name}
                  </option>
                ))}
              </select>
              <input
                type="time"
                aria-label="Begins"
                required
                className="field w-auto"
                value={evening.time}
                onChange={(event) => put(n, { time: event.target.value })}
              />
              <input
                type="number"
                aria-label="Minutes"
                min={10}
                max={480}
                className="field w-20"
                value={evening.minutes}
                onChange={(event) => put(n, { minutes: Number(event.target.value) })}
              />
              <span>min</span>
              <Button
                kind="quiet"
                aria-label={`Take out: ${WEEKDAYS[evening.weekday]}`}
                onClick={() => setEvenings(evenings.filter((_, k) => k !== n))}
              >
                Take out
              </Button>
            </div>
          ))}
          <Button onClick={() => setEvenings([...evenings, { weekday: 3, time: "18:30", minutes: 90 }])}>
            Another evening
          </Button>
        </fieldset>
        <fieldset className="mb-4">
          <legend className="mb-1 font-bold">
            Who comes: {members.size ? count(members.size) : "nobody yet"}
          </legend>
          <input
            aria-label="Only names with these letters"
            placeholder="Name"
            className="field mb-2"
            value={typed}
            onChange={(event) => type(event.target.value)}
          />
          <ul className="max-h-72 overflow-y-auto">
            {shown.map((t) => (
              <li key={t.id}>
                <label className="flex min-h-11 items-center gap-3">
                  <input
                    type="checkbox"
                    className="h-6 w-6 accent-blue"
                    checked={members.has(t.id)}
                    onChange={() => flip(t.id)}
                  />
                  {t.name}
                </label>
              </li>
            ))}
          </ul>
        </fieldset>
        <div className="flex flex-wrap justify-between gap-3">
          <Button type="submit" kind="act">
            Keep
          </Button>
          {group && <Button onClick={() => void strike(group)}>Strike this group out</Button>}
        </div>
      </form>
    </Sheet>
  );
}
