import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { v7 as uuidv7 } from "uuid";
import { ask, type Coach, client, type Handed } from "../../api/client";
import { useHall } from "../../api/hall";
import { useMay, useMe } from "../../api/me";
import { Button, buttonLook } from "../../parts/Button";
import { Field } from "../../parts/Field";
import { Part, text, useSent } from "../../parts/forms";
import { HandedOver } from "../../parts/HandedOver";
import { Problem, Waiting } from "../../parts/Message";
import { day } from "../../parts/words";
import { Halls } from "./Halls";
import { Invitations } from "./Invitations";
import { People } from "./People";

/** The hall: who is in it and as what, how another device comes in, and which halls one has. */
export function HallScreen() {
  const me = useMe();
  const hall = useHall();
  const owner = useMay("owner");
  const coach = useMay("coach");
  if (hall.isPending || me.isPending) return <Waiting />;
  if (!hall.data || !me.data) return <Problem error={hall.error ?? me.error} />;
  return (
    <>
      <div className="mb-5 flex flex-wrap items-end justify-between gap-3">
        <div>
          <p className="text-soft">The hall</p>
          <h1 className="text-[2.125rem] leading-tight">{hall.data.hall.name}</h1>
        </div>
        <Link to="/hall/history" className={buttonLook("plain")}>
          Who did what
        </Link>
      </div>
      <div className="grid items-start gap-x-14 gap-y-9 lg:grid-cols-2">
        <div className="grid gap-y-9">
          <People page={hall.data} />
          {owner && <Invitations page={hall.data} />}
        </div>
        <div className="grid gap-y-9">
          <OpenOnAPhone />
          {coach && <HallCalendar />}
          {owner && <Details me={me.data} />}
          <Halls me={me.data} />
        </div>
      </div>
    </>
  );
}

function OpenOnAPhone() {
  const [handed, setHanded] = useState<Handed | null>(null);
  const [error, setError] = useState<unknown>(null);
  const make = () => ask(client.POST("/api/hall/device-link")).then(setHanded, setError);
  return (
    <Part
      title="Open on a phone"
      about="Point the phone's camera at the code. It signs you in there, once, within ten minutes."
    >
      {error !== null && <Problem error={error} />}
      {handed && (
        <HandedOver
          handed={handed}
          title="Wise Perch on this phone"
          words="Whoever opens this is signed in as you. Show it to nobody else."
        />
      )}
      <Button onClick={() => void make()}>{handed ? "Make another code" : "Show a code"}</Button>
      {handed?.trust && (
        <p className="mt-3 text-soft">
          A phone that comes for the first time is told to trust the hall: open{" "}
          <b className="break-all text-ink">{handed.trust}</b> on it before.
        </p>
      )}
    </Part>
  );
}

/** One calendar of everybody's sessions, by a secret address. */
function HallCalendar() {
  const queries = useQueryClient();
  const [handed, setHanded] = useState<Handed | null>(null);
  const [error, setError] = useState<unknown>(null);
  const links = useQuery({
    queryKey: ["hall", "links"],
    queryFn: () => ask(client.GET("/api/hall/links")),
  });
  const again = () => queries.invalidateQueries({ queryKey: ["hall", "links"] });
  const make = () =>
    ask(client.POST("/api/hall/links", { body: { id: uuidv7() } }))
      .then(setHanded, setError)
      .then(again);
  const revoke = (id: string) =>
    ask(client.POST("/api/links/{id}/revoke", { params: { path: { id } } }))
      .then(() => setHanded(null), setError)
      .then(again);
  return (
    <Part
      title="One calendar for the hall"
      about="Everybody's planned sessions. Whoever has the address sees names and drills without signing in."
    >
      {error !== null && <Problem error={error} />}
      {handed && (
        <HandedOver
          handed={handed}
          title="Secret address of the calendar"
          words="Shown this once: subscribe to it in a calendar."
        />
      )}
      <Button onClick={() => void make()}>Make an address</Button>
      <ul className="mt-2">
        {(links.data ?? []).map((link) => (
          <li key={link.id} className="flex min-h-11 items-center justify-between border-b border-rule py-1">
            <span>Calendar, since {day(link.created_at)}</span>
            <Button
              kind="quiet"
              aria-label={`Take back the calendar of ${day(link.created_at)}`}
              onClick={() => void revoke(link.id)}
            >
              Take back
            </Button>
          </li>
        ))}
      </ul>
    </Part>
  );
}

function Details({ me }: { me: Coach }) {
  const queries = useQueryClient();
  const hall = me.hall;
  const { said, submit } = useSent(async (form) => {
    const body = { name: text(form, "name"), time_zone: text(form, "zone") };
    await ask(client.PATCH("/api/hall", { body }));
    await queries.invalidateQueries();
  }, "Kept.");
  if (!hall) return null;
  // the zone that is kept stands in the list even where this browser does not know it
  const zones = [...new Set([hall.time_zone, ...Intl.supportedValuesOf("timeZone"), "UTC"])].sort();
  return (
    <Part title="Name and time zone" about="A late session counts on the day it is in the hall.">
      {said}
      <form key={`${hall.name} ${hall.time_zone}`} onSubmit={submit}>
        <Field label="What the hall is called">
          {(id) => (
            <input id={id} name="name" required maxLength={120} defaultValue={hall.name} className="field" />
          )}
        </Field>
        <Field label="The hall's time zone">
          {(id) => (
            <select id={id} name="zone" className="field" defaultValue={hall.time_zone}>
              {zones.map((zone) => (
                <option key={zone}>{zone}</option>
              ))}
            </select>
          )}
        </Field>
        <Button type="submit">Keep name and zone</Button>
      </form>
    </Part>
  );
}
