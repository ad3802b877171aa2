import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type Handed } from "../../api/client";
import { useLinks } from "../../api/hooks";
import { Button } from "../../parts/Button";
import { HandedOver } from "../../parts/HandedOver";
import { Problem } from "../../parts/Message";
import { Sheet } from "../../parts/Sheet";
import { day } from "../../parts/words";

const KINDS = {
  calendar: "A calendar to subscribe to",
  page: "The trainee's own page, to read and to tell back what was done",
} as const;
type Kind = keyof typeof KINDS;

/** Secret addresses: made, shown once, taken back. */
export function ShareForm({ trainee, onClose }: { trainee: string; onClose: () => void }) {
  const links = useLinks(trainee);
  const queries = useQueryClient();
  const [made, setMade] = useState<Handed | null>(null);
  const [wrong, setWrong] = useState<unknown>(null);
  const again = () => void queries.invalidateQueries({ queryKey: ["links", trainee] });
  const make = (kind: Kind) =>
    ask(
      client.POST("/api/trainees/{id}/links", {
        params: { path: { id: trainee } },
        body: { id: uuidv7(), kind },
      }),
    ).then((link) => {
      setMade(link);
      again();
    }, setWrong);
  const revoke = (id: string) =>
    ask(client.POST("/api/links/{id}/revoke", { params: { path: { id } } })).then(() => {
      setMade(null);
      again();
    }, setWrong);
  return (
    <Sheet
      open
      onClose={onClose}
      title="Calendar and own page"
      about="Whoever has such an address sees these sessions without signing in. Give it to the trainee alone."
    >
      {wrong !== null && <Problem error={wrong} />}
      {made && (
        <HandedOver
          handed={made}
          title="Secret address"
          words="Shown once: let the trainee's phone read the code, or copy it now."
        />
      )}
      <div className="mb-4 grid gap-2">
        {(Object.keys(KINDS) as Kind[]).map((kind) => (
          <div key={kind}>
            <p>{KINDS[kind]}</p>
            <Button onClick={() => void make(kind)}>
              {kind === "calendar" ? "Make a calendar address" : "Make a page address"}
            </Button>
          </div>
        ))}
      </div>
      {(links.data ?? []).length > 0 && <h3 className="text-lg">In use</h3>}
      <ul>
        {(links.data ?? []).map((link) => (
          <li key={link.id} className="flex items-center justify-between border-b border-rule py-1">
            <span>
              {link.kind === "calendar" ? "Calendar" : "Own page"}, since {day(link.created_at)}
            </span>
            <Button
              kind="quiet"
              aria-label={`Take back the ${link.kind} of ${day(link.created_at)}`}
              onClick={() => void revoke(link.id)}
            >
              Take back
            </Button>
          </li>
        ))}
      </ul>
    </Sheet>
  );
}
