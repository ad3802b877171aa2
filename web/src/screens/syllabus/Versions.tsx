import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { v7 as uuidv7 } from "uuid";
import { ask, client, type SyllabusPage, type SyllabusTrial } from "../../api/client";
import { Button, buttonLook } from "../../parts/Button";
import { Message, Problem } from "../../parts/Message";
import { Sheet } from "../../parts/Sheet";
import { day } from "../../parts/words";

const TIME = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit" });

/** Every version kept, what differs from ours, the way back, and the syllabus as a file. */
export function Versions({ page, onClose }: { page: SyllabusPage; onClose: () => void }) {
  const queries = useQueryClient();
  const [error, setError] = useState<unknown>();
  const goBack = async (to: string | null) => {
    try {
      await ask(client.POST("/api/syllabus/go-back", { body: { id: uuidv7(), base: page.version, to } }));
      await queries.invalidateQueries();
      onClose();
    } catch (failure) {
      setError(failure);
      // what is in use by now stands in the list, to be looked at
      await queries.invalidateQueries();
    }
  };
  return (
    <Sheet open side onClose={onClose} title="Versions and files" about="Nothing kept is ever written over.">
      {error !== undefined && <Problem error={error} named />}
      <ol className="mb-3">
        {page.versions.map((v, place) => (
          <li key={v.id} className="flex items-center justify-between gap-3 border-b border-rule py-2">
            <span>
              <b>
                {day(v.at)}, {TIME.format(new Date(v.at))}
              </b>
              {place === 0 && " · in use"}
              <span className="block text-sm text-soft">{v.note}</span>
            </span>
            {place > 0 && (
              <button type="button" className="shrink-0 underline" onClick={() => void goBack(v.id)}>
                Go back to it
              </button>
            )}
          </li>
        ))}
        <li className="flex items-center justify-between gap-3 py-2">
          <span>
            <b>Ours</b>, as it ships{!page.own && " · in use"}
          </span>
          {page.own && (
            <button type="button" className="shrink-0 underline" onClick={() => void goBack(null)}>
              Go back to ours
            </button>
          )}
        </li>
      </ol>
      {page.own && <Compared />}
      <h3 className="mt-5 text-lg">As a file</h3>
      <p className="mb-3">
        <a href="/api/syllabus.yaml" download className={buttonLook("plain")}>
          Export YAML
        </a>
      </p>
      <Import base={page.version} />
    </Sheet>
  );
}

function Compared() {
  const found = useQuery({
    queryKey: ["syllabus", "compare"],
    queryFn: () => ask(client.GET("/api/syllabus/compare", {})),
  });
  if (!found.data) return null;
  return (
    <details>
      <summary className="cursor-pointer">
        Compared with ours: {found.data.length} {found.data.length === 1 ? "difference" : "differences"}
      </summary>
      <ul className="mt-1">
        {found.data.map((d) => (
          <li key={`${d.drill} ${d.part}`} className="border-b border-rule py-1">
            <b>{d.title}</b>, {d.part}
            <span className="block text-sm">
              <span className="text-soft line-through">{d.before || "nothing"}</span> {d.after || "nothing"}
            </span>
          </li>
        ))}
      </ul>
    </details>
  );
}

function Import({ base }: { base: string | null }) {
  const queries = useQueryClient();
  const [file, setFile] = useState<File>();
  const [trial, setTrial] = useState<SyllabusTrial>();
  const [error, setError] = useState<unknown>();
  const send = async (chosen: File, keep?: string) => {
    const body = new FormData();
    body.append("file", chosen);
    try {
      const answer = await ask(
        client.POST("/api/syllabus.yaml", {
          params: { query: keep ? { keep, ...(base ? { base } : {}) } : {} },
          // the generated type says text; the browser sends the form as it is
          body: body as never,
          bodySerializer: (raw: unknown) => raw as FormData,
        }),
      );
      setTrial(answer);
      setError(undefined);
      if (keep) await queries.invalidateQueries();
    } catch (failure) {
      setError(failure);
      if (keep) await queries.invalidateQueries();
    }
  };
  return (
    <>
      <label className={`${buttonLook("plain")} cursor-pointer`}>
        Import YAML
        <input
          type="file"
          accept=".yaml,.yml"
          className="sr-only"
          onChange={(event) => {
            const chosen = event.target.files?.[0];
            event.target.value = "";
            if (!chosen) return;
            setFile(chosen);
            setTrial(undefined);
            void send(chosen);
          }}
        />
      </label>
      {error !== undefined && <Problem error={error} named />}
      {trial && trial.problems.length > 0 && (
        <Message danger>
          <p className="font-bold">Nothing was kept. {file?.name}:</p>
          <ul>
            {trial.problems.map((p) => (
              <li key={`${p.line} ${p.what}`}>
                line {p.line}: {p.what}
              </li>
            ))}
          </ul>
        </Message>
      )}
      {trial && !trial.problems.length && !trial.kept && file && (
        <Message>
          <p className="mb-2">
            All checks pass. It changes the wall bars of {trial.effects.length} trainees.
          </p>
          <Button kind="act" onClick={() => void send(file, uuidv7())}>
            Keep as my own
          </Button>
        </Message>
      )}
      {trial?.kept && <p role="status">Kept, and in use.</p>}
    </>
  );
}
