import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { ask, type ClassPage, client, type Handed } from "../../api/client";
import { useTrainees } from "../../api/hooks";
import { happenInClass } from "../../live/classNight";
import { Button } from "../../parts/Button";
import { For } from "../../parts/For";
import { HandedOver } from "../../parts/HandedOver";
import { Problem } from "../../parts/Message";
import { Sheet } from "../../parts/Sheet";
import type { Say } from "./ClassScreen";
import { useLayOut } from "./LayingOut";

/** What is done once an evening: a display, a print, files, one more who comes, more coaches, the end. */
export function ThisEvening({ page, onClose, say }: { page: ClassPage; onClose: () => void; say: Say }) {
  const [handed, setHanded] = useState<Handed | null>(null);
  const [error, setError] = useState<unknown>(null);
  const trainees = useTrainees();
  const here = new Set(page.told.people.map((p) => p.trainee));
  const layOut = useLayOut(page);
  const queries = useQueryClient();
  const go = useNavigate();
  const strike = () =>
    ask(client.POST("/api/classes/{id}/strike", { params: { path: { id: page.id } } })).then(() => {
      void queries.invalidateQueries({ queryKey: ["classes"] });
      void go("/class", { state: { struck: page.id } });
    }, setError);
  const display = () =>
    ask(client.POST("/api/classes/{id}/display", { params: { path: { id: page.id } } })).then(
      setHanded,
      setError,
    );
  return (
    <Sheet open side onClose={onClose} title="This evening">
      {error !== null && <Problem error={error} />}
      {handed ? (
        <HandedOver
          handed={handed}
          title="The hall display"
          words="Open this on a screen in the hall or a spare phone. It is shown once; a new one takes its place."
        />
      ) : (
        <Button live kind="act" className="mb-4 w-full" onClick={() => void display()}>
          Hall display
        </Button>
      )}
      {!page.closed_at && (
        <>
          <label className="mb-4 block">
            <span className="mb-1 block font-bold">One more comes now</span>
            <select
              className="field"
              value=""
              onChange={(event) => {
                const name = trainees.data?.find((t) => t.id === event.target.value)?.name ?? "";
                happenInClass(page.id, { kind: "join", trainee: event.target.value }, `class: ${name} comes`);
                onClose();
              }}
            >
              <option value="">who?</option>
              {trainees.data
                ?.filter((t) => !here.has(t.id))
                .map((t) => (
                  <option key={t.id} value={t.id}>
                    {t.name}
                  </option>
                ))}
            </select>
          </label>
          <Coaches page={page} onClose={onClose} />
        </>
      )}
      <ul className="mb-4 grid gap-2">
        <li>
          <Link className="underline" to={`/class/${page.id}/print`}>
            Print: a sheet for the wall, and cards
          </Link>
        </li>
        {(["json", "csv", "ics"] as const).map((kind) => (
          <li key={kind}>
            <a className="underline" href={`/api/classes/${page.id}/evening.${kind}`}>
              As {kind === "ics" ? "a calendar" : kind.toUpperCase()}
            </a>
          </li>
        ))}
        <li>
          <Link className="underline" to="/class">
            Every class night
          </Link>
        </li>
      </ul>
      {!page.begun_at && (
        <For least="coach">
          <div className="mb-4 grid gap-3">
            <Button
              onClick={() => {
                void layOut().catch(setError);
                onClose();
              }}
            >
              Lay it out once more
            </Button>
            <Button kind="quiet" onClick={() => void strike()}>
              Strike this evening out
            </Button>
          </div>
        </For>
      )}
      {page.begun_at && !page.closed_at && (
        <Button
          live
          className="w-full"
          onClick={() => {
            say("end", "the evening ends");
            onClose();
          }}
        >
          End the evening
        </Button>
      )}
      {page.told.figures_why && <p className="mt-4 text-sm text-soft">{page.told.figures_why}</p>}
    </Sheet>
  );
}

function Coaches({ page, onClose }: { page: ClassPage; onClose: () => void }) {
  const [names, setNames] = useState(page.coaches.join(", "));
  return (
    <form
      className="mb-4"
      onSubmit={(event) => {
        event.preventDefault();
        const coaches = names
          .split(",")
          .map((n) => n.trim())
          .filter(Boolean);
        happenInClass(page.id, { kind: "coaches", coaches }, "class: who coaches");
        onClose();
      }}
    >
      <label className="mb-2 block">
        <span className="mb-1 block font-bold">Coaches on duty, with commas</span>
        <input
          className="field"
          value={names}
          maxLength={400}
          onChange={(event) => setNames(event.target.value)}
        />
      </label>
      <Button type="submit">Keep them</Button>
    </form>
  );
}
