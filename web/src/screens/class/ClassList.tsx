import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useLocation } from "react-router";
import { useClasses, useRooms } from "../../api/classNight";
import type { TrainingRoom } from "../../api/client";
import { client, ask as request } from "../../api/client";
import { Button } from "../../parts/Button";
import { Message, Problem, Waiting } from "../../parts/Message";
import { dayMonth } from "../../parts/words";
import { NewClass } from "./NewClass";
import { RoomForm } from "./RoomForm";
import { stationsInWords } from "./stations";

/** Every class night, the rooms, and a new one to lay out. */
export function ClassList() {
  const classes = useClasses();
  const rooms = useRooms();
  const [asking, ask] = useState(false);
  const [room, setRoom] = useState<TrainingRoom | "new" | null>(null);
  const queries = useQueryClient();
  const { struck } = (useLocation().state ?? {}) as { struck?: string };
  const [gone, setGone] = useState<{ evening?: string | undefined; room?: string }>({ evening: struck });
  const restore = () => {
    const back = gone.room
      ? request(client.POST("/api/rooms/{id}/restore", { params: { path: { id: gone.room } } }))
      : request(client.POST("/api/classes/{id}/restore", { params: { path: { id: gone.evening ?? "" } } }));
    void back.then(() => {
      setGone({});
      void queries.invalidateQueries({ queryKey: [gone.room ? "rooms" : "classes"] });
    });
  };
  if (classes.isPending || rooms.isPending) return <Waiting />;
  if (!classes.data || !rooms.data) return <Problem error={classes.error ?? rooms.error} />;
  return (
    <>
      <div className="mb-4 flex flex-wrap items-end justify-between gap-4">
        <h1 className="text-[2.125rem] leading-tight">Class nights</h1>
        <Button kind="act" least="coach" disabled={rooms.data.rooms.length === 0} onClick={() => ask(true)}>
          Lay an evening out
        </Button>
      </div>
      {(gone.evening || gone.room) && (
        <Message>
          {gone.room ? "The room is struck out. Its evenings stay." : "The evening is struck out."}{" "}
          <button type="button" className="underline" onClick={restore}>
            Bring it back
          </button>
        </Message>
      )}
      <div className="grid gap-x-12 gap-y-8 lg:grid-cols-[minmax(0,1.4fr)_minmax(0,1fr)]">
        <section aria-label="Evenings">
          {classes.data.length === 0 && (
            <Message>
              {rooms.data.rooms.length === 0
                ? "No evening yet. Add a room first: how many walls, boxes, places."
                : "No evening yet. Lay one out: who comes, how long, in which room."}
            </Message>
          )}
          <ul>
            {classes.data.map((night) => (
              <li key={night.id}>
                <Link
                  to={`/class/${night.id}`}
                  className="grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-4 border-b border-rule py-3 hover:bg-sheet"
                >
                  <span>
                    <b className="font-head text-lg">
                      {dayMonth(night.day)}, {night.time}
                    </b>
                    <span className="block text-soft">
                      {night.room}, {night.people} {night.people === 1 ? "trainee" : "trainees"},{" "}
                      {night.minutes} min
                    </span>
                  </span>
                  <span className={night.state === "under way" ? "font-bold text-blue" : "text-soft"}>
                    {night.state}
                  </span>
                </Link>
              </li>
            ))}
          </ul>
        </section>
        <section aria-label="Rooms">
          <div className="mb-2 flex items-center justify-between gap-4">
            <h2 className="text-xl">Rooms</h2>
            <Button least="coach" onClick={() => setRoom("new")}>
              Add a room
            </Button>
          </div>
          <ul>
            {rooms.data.rooms.map((r) => (
              <li
                key={r.id}
                className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-4 border-b border-rule py-3"
              >
                <div>
                  <b className="font-head text-lg">{r.name}</b>
                  {r.day_out && <span className="ml-2 text-soft">for a day out</span>}
                  <p className="text-soft">{stationsInWords(r, rooms.data.kinds)}</p>
                </div>
                <Button least="coach" aria-label={`Change: ${r.name}`} onClick={() => setRoom(r)}>
                  Change
                </Button>
              </li>
            ))}
          </ul>
        </section>
      </div>
      {asking && <NewClass page={rooms.data} onClose={() => ask(false)} />}
      {room && (
        <RoomForm
          room={room === "new" ? null : room}
          kinds={rooms.data.kinds}
          onClose={() => setRoom(null)}
          onStruck={(id) => setGone({ room: id })}
        />
      )}
    </>
  );
}
