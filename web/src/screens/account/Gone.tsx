import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type Receipt } from "../../api/client";
import { Button, buttonLook } from "../../parts/Button";
import { Field } from "../../parts/Field";
import { For } from "../../parts/For";
import { Part } from "../../parts/forms";
import { Message, Problem } from "../../parts/Message";
import { Sheet } from "../../parts/Sheet";
import { saveAs } from "../../parts/saveAs";
import { moment } from "../../parts/words";

type Away = { id: string; name: string; since: string };

/** Trainees who left: brought back, taken along as a file, or erased for good; and the receipts of that. */
export function Gone() {
  const queries = useQueryClient();
  const [wrong, setWrong] = useState<unknown>(null);
  const [erasing, setErasing] = useState<Away | null>(null);
  const away = useQuery({ queryKey: ["away"], queryFn: () => ask(client.GET("/api/away")) });
  const receipts = useQuery({ queryKey: ["receipts"], queryFn: () => ask(client.GET("/api/receipts")) });
  const bringBack = (id: string) =>
    ask(client.POST("/api/trainees/{id}/bring-back", { params: { path: { id } } })).then(
      () => queries.invalidateQueries(),
      setWrong,
    );
  return (
    <Part
      title="Trainees put away"
      about="Whoever left is put away under their Details, and kept here with everything of theirs."
    >
      {wrong !== null && <Problem error={wrong} />}
      {away.data?.length === 0 && <p>Nobody is put away.</p>}
      <ul>
        {(away.data ?? []).map((who) => (
          <li key={who.id} className="border-b border-rule py-2">
            <p className="font-bold">
              {who.name} <span className="font-normal text-soft">since {moment(who.since)}</span>
            </p>
            <div className="mt-1 flex flex-wrap gap-3">
              <Button aria-label={`Bring back: ${who.name}`} onClick={() => void bringBack(who.id)}>
                Bring back
              </Button>
              <a href={`/api/archive?trainee=${who.id}`} download className={buttonLook("plain")}>
                Save everything of theirs
              </a>
              <For least="owner">
                <Button kind="danger" onClick={() => setErasing(who)}>
                  Erase for good …
                </Button>
              </For>
            </div>
          </li>
        ))}
      </ul>
      {(receipts.data ?? []).length > 0 && (
        <>
          <h3 className="mt-4 font-bold">Erased</h3>
          <ul>
            {(receipts.data ?? []).map((r) => (
              <li key={r.id} className="flex items-center justify-between gap-4 border-b border-rule py-1">
                <span>
                  {moment(r.at)}: {counted(r)}
                </span>
                <Button onClick={() => saveAs(`receipt-${r.id}.json`, JSON.stringify(r, null, 1))}>
                  Save the receipt
                </Button>
              </li>
            ))}
          </ul>
        </>
      )}
      {erasing && <Erase who={erasing} onClose={() => setErasing(null)} />}
    </Part>
  );
}

const counted = (receipt: Receipt) =>
  Object.entries(receipt.counted)
    .filter(([, n]) => n > 0)
    .map(([what, n]) => `${n} ${what.replace("_", " ")}`)
    .join(", ") || "nothing but the name";

function Erase({ who, onClose }: { who: Away; onClose: () => void }) {
  const queries = useQueryClient();
  const [id] = useState(() => uuidv7());
  const [wrong, setWrong] = useState<unknown>(null);
  const erase = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const body = { receipt: id, name: String(form.get("name")), present: String(form.get("present")) };
    try {
      await ask(client.POST("/api/trainees/{id}/erase", { params: { path: { id: who.id } }, body }));
      await queries.invalidateQueries();
      onClose();
    } catch (error) {
      setWrong(error);
    }
  };
  return (
    <Sheet open onClose={onClose} title={`Erase ${who.name} for good`}>
      <Message danger>
        Everything of theirs goes from the database and does not come back: tests, sessions, plans, intake.
        Save it first if they may want it. Backups made before still hold it; the machine's own daily ones are
        gone after 14 days, others when whoever keeps them takes them away. Their name in notes about somebody
        else is not searched for.
      </Message>
      {wrong !== null && <Problem error={wrong} />}
      <form onSubmit={(event) => void erase(event)}>
        <Field label="Their name, as it is kept">
          {(field) => <input id={field} name="name" required className="field" autoComplete="off" />}
        </Field>
        <Field label="Your password">
          {(field) => (
            <input
              id={field}
              name="present"
              type="password"
              required
              className="field"
              autoComplete="current-password"
            />
          )}
        </Field>
        <Button type="submit" kind="danger">
          Erase for good
        </Button>
      </form>
    </Sheet>
  );
}
