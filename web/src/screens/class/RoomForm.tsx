import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type StationKind, type TrainingRoom } from "../../api/client";
import { Button } from "../../parts/Button";
import { TextField } from "../../parts/Field";
import { Problem } from "../../parts/Message";
import { Sheet } from "../../parts/Sheet";

interface Props {
  room: TrainingRoom | null;
  kinds: readonly StationKind[];
  onClose: () => void;
  onStruck: (id: string) => void;
}

/** A room: how many stations of each kind, with the heights of what stands there. */
export function RoomForm({ room, kinds, onClose, onStruck }: Props) {
  const queries = useQueryClient();
  const [id] = useState(() => room?.id ?? uuidv7());
  const [stations, setStations] = useState<Record<string, number>>(() =>
    Object.fromEntries(kinds.map((k) => [k.kind, room ? (room.stations[k.kind] ?? 0) : k.usual])),
  );
  const [heights, setHeights] = useState<Record<string, string>>(room?.heights ?? {});
  const [dayOut, setDayOut] = useState(room?.day_out ?? false);
  const [error, setError] = useState<unknown>(null);
  const done = () => void queries.invalidateQueries({ queryKey: ["rooms"] }).then(onClose);
  const save = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const name = String(new FormData(event.currentTarget).get("name"));
    const body = { name, stations, heights, day_out: dayOut };
    const kept = room
      ? ask(client.PUT("/api/rooms/{id}", { params: { path: { id } }, body }))
      : ask(client.POST("/api/rooms", { body: { id, ...body } }));
    kept.then(done, setError);
  };
  const strike = () =>
    ask(client.POST("/api/rooms/{id}/strike", { params: { path: { id } } })).then(() => {
      onStruck(id);
      done();
    }, setError);
  return (
    <Sheet open side onClose={onClose} title={room ? `Change ${room.name}` : "Add a room"}>
      <form onSubmit={save}>
        {error !== null && <Problem error={error} />}
        <TextField label="Name" name="name" required value={room?.name} />
        {kinds.map((k) => (
          <div key={k.kind} className="mb-3 grid grid-cols-[minmax(0,1fr)_5rem] items-center gap-3">
            <label htmlFor={`n ${k.kind}`} className="font-bold">
              {k.title}
            </label>
            <input
              id={`n ${k.kind}`}
              type="number"
              min={0}
              max={60}
              className="field"
              value={stations[k.kind] ?? 0}
              onChange={(event) => setStations({ ...stations, [k.kind]: Number(event.target.value) })}
            />
            {k.high && (
              <input
                aria-label={`Heights: ${k.title}`}
                placeholder="heights, as 30 and 45 cm"
                maxLength={80}
                className="field col-span-2"
                value={heights[k.kind] ?? ""}
                onChange={(event) => setHeights({ ...heights, [k.kind]: event.target.value })}
              />
            )}
          </div>
        ))}
        <label className="mb-5 flex min-h-11 items-center gap-3">
          <input
            type="checkbox"
            className="size-5"
            checked={dayOut}
            onChange={(event) => setDayOut(event.target.checked)}
          />
          For a day out, with less
        </label>
        <div className="flex flex-wrap gap-3">
          <Button type="submit" kind="act">
            Keep the room
          </Button>
          {room && (
            <Button kind="quiet" onClick={() => void strike()}>
              Strike it out
            </Button>
          )}
        </div>
      </form>
    </Sheet>
  );
}
