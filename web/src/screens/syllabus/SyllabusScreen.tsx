import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Tabs } from "radix-ui";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { v7 as uuidv7 } from "uuid";
import { ask, asSent, client, type Edit, Failure, type Line, type SyllabusPage } from "../../api/client";
import { useSyllabus } from "../../api/hooks";
import { Button, buttonLook } from "../../parts/Button";
import { Message, Problem, Waiting } from "../../parts/Message";
import { count } from "../../parts/words";
import { CheckPanel } from "./CheckPanel";
import { CoachSchools } from "./CoachSchools";
import { DrillEditor } from "./DrillEditor";
import { drillsOf, editWords, readDraft, withEdit, writeDraft } from "./draft";
import { Goals } from "./Goals";
import { LineList } from "./LineList";
import { OwnTests } from "./OwnTests";
import { Versions } from "./Versions";

/** The syllabus to browse, and to make one's own. */
export function SyllabusScreen() {
  const page = useSyllabus();
  const [versions, showVersions] = useState(false);
  if (page.isPending) return <Waiting />;
  if (!page.data) return <Problem error={page.error} />;
  return (
    <>
      <Editor key={page.data.version} page={page.data} onVersions={() => showVersions(true)} />
      {versions && <Versions page={page.data} onClose={() => showVersions(false)} />}
    </>
  );
}

const GOALS = "own-goals";
const SCHOOLS = "schools";
const TESTS = "own-tests";
const A_MOMENT_MS = 350;

/** The edits that are not kept yet, with the version they were made on; they stay in this browser until they are. */
function useSyllabusDraft(page: SyllabusPage) {
  const queries = useQueryClient();
  const [draft, setDraft] = useState(() => readDraft(page));
  const [error, setError] = useState<unknown>();
  const [id, renewId] = useState(() => uuidv7());
  const { base, edits } = draft;
  const change = (next: Edit[]) => {
    const made = { base: next.length ? base : page.version, edits: next };
    writeDraft(made);
    setDraft(made);
    setError(undefined);
  };
  const keep = async (titles: Map<string, string>) => {
    const note = edits
      .map((edit) => editWords(edit, titles))
      .join("; ")
      .slice(0, 1900);
    try {
      await ask(client.POST("/api/syllabus/versions", { body: { id, base, edits: asSent(edits), note } }));
      writeDraft(null);
      setDraft({ base: id, edits: [] });
      renewId(uuidv7());
      await queries.invalidateQueries();
    } catch (failure) {
      setError(failure);
    }
  };
  return { edits, change, keep, rebase: () => setDraft({ base: page.version, edits }), error };
}

function Editor({ page, onVersions }: { page: SyllabusPage; onVersions: () => void }) {
  const { edits, change, keep, rebase, error } = useSyllabusDraft(page);
  const [picked, pick] = useState<string | null>(null);
  const trial = useTrial(edits);
  const content = trial.data?.content ?? page.content;
  const words = trial.data?.content ? trial.data.words : page.words;
  const lines = content.lines;
  const titles = new Map([
    ...drillsOf(lines).map((d) => [d.drill, d.title] as const),
    ...[...page.tests, ...content.own_tests].map((t) => [t.test, t.title] as const),
  ]);
  const add = (edit: Edit) => {
    change(withEdit(edits, edit));
    if (edit.insert) pick(edit.drill);
  };
  const drill = drillsOf(lines).find((d) => d.drill === picked);
  const sound = trial.data !== undefined && trial.data.problems.length === 0 && !trial.isFetching;
  return (
    <>
      <SyllabusHeader
        page={page}
        lines={lines}
        edits={edits}
        sound={sound}
        onTakeBack={() => change(edits.slice(0, -1))}
        onKeep={() => void keep(titles)}
        onVersions={onVersions}
      />
      {error !== undefined && <Problem error={error} named />}
      {error instanceof Failure && error.status === 409 && (
        <Message>
          <button type="button" className="underline" onClick={rebase}>
            Put these edits on the newest version
          </button>
        </Message>
      )}
      <Tabs.Root
        defaultValue={lines[0]?.line}
        orientation="vertical"
        className="grid gap-x-8 gap-y-4 lg:grid-cols-[10rem_1fr_24rem]"
        onValueChange={() => pick(null)}
      >
        <Tabs.List aria-label="Lines" className="flex gap-1 overflow-x-auto lg:flex-col lg:overflow-visible">
          {lines.map((line) => (
            <Tab key={line.line} value={line.line} words={line.title} />
          ))}
          <Tab value={GOALS} words="Goals" />
          <Tab value={SCHOOLS} words="Schools" />
          <Tab value={TESTS} words="Tests" />
        </Tabs.List>
        <div>
          {lines.map((line) => (
            <Tabs.Content key={line.line} value={line.line} tabIndex={-1}>
              <LineList line={line} picked={picked} words={words} onPick={pick} />
            </Tabs.Content>
          ))}
          <Tabs.Content value={GOALS} tabIndex={-1}>
            <Goals content={content} onEdit={add} />
          </Tabs.Content>
          <Tabs.Content value={SCHOOLS} tabIndex={-1}>
            <CoachSchools page={page} />
          </Tabs.Content>
          <Tabs.Content value={TESTS} tabIndex={-1}>
            <OwnTests page={page} content={content} onEdit={add} />
          </Tabs.Content>
        </div>
        <div className="lg:sticky lg:top-20 lg:max-h-[calc(100vh-6rem)] lg:self-start lg:overflow-y-auto">
          {drill && (
            <DrillEditor
              key={`${drill.drill} ${edits.length}`}
              drill={drill}
              words={words[drill.drill]}
              content={content}
              onEdit={add}
              onClose={() => pick(null)}
            />
          )}
          <CheckPanel
            edits={edits.map((edit) => editWords(edit, titles))}
            trial={trial.data}
            effects={trial.effects}
            failure={trial.error}
            waiting={trial.isFetching}
            gaps={trial.data?.problems.length === 0 ? trial.data.gaps : page.gaps}
            onEdit={add}
            onPick={pick}
          />
        </div>
      </Tabs.Root>
    </>
  );
}

interface HeaderProps {
  page: SyllabusPage;
  lines: Line[];
  edits: Edit[];
  /** The edits pass every check. */
  sound: boolean;
  onTakeBack: () => void;
  onKeep: () => void;
  onVersions: () => void;
}

/** Whose syllabus it is, how many edits wait, and keeping them. */
function SyllabusHeader({ page, lines, edits, sound, onTakeBack, onKeep, onVersions }: HeaderProps) {
  return (
    <div className="mb-4 flex flex-wrap items-end justify-between gap-x-8 gap-y-3">
      <div>
        <p className="text-sm text-soft">{page.own ? "Your own copy" : "The syllabus as it ships"}</p>
        <h1 className="text-[2.125rem] leading-tight">
          {edits.length
            ? `${count(edits.length).replace(/^./, (c) => c.toUpperCase())} ${edits.length === 1 ? "edit" : "edits"} not kept yet.`
            : `${drillsOf(lines).filter((d) => !d.retired).length} drills on ${lines.length} lines.`}
        </h1>
      </div>
      <div className="flex flex-wrap gap-3">
        {edits.length > 0 && (
          <>
            <Button onClick={onTakeBack}>Take the last edit back</Button>
            <Button least="owner" kind="act" disabled={!sound} onClick={onKeep}>
              Keep as my own
            </Button>
          </>
        )}
        <Link to="/syllabus/breakdown" className={buttonLook("plain")}>
          Break down a goal
        </Link>
        <Button onClick={onVersions}>Versions and files</Button>
      </div>
    </div>
  );
}

function Tab({ value, words }: { value: string; words: string }) {
  return (
    <Tabs.Trigger
      value={value}
      className="min-h-11 whitespace-nowrap border-l-4 lg:whitespace-normal border-transparent px-3 text-left text-soft hover:text-ink data-[state=active]:border-blue data-[state=active]:font-bold data-[state=active]:text-ink"
    >
      {words}
    </Tabs.Trigger>
  );
}

/** Try the edits a moment after the last of them: checks, gaps, and what changes for whom. */
function useTrial(edits: Edit[]) {
  const [settled, settle] = useState(edits);
  useEffect(() => {
    const timer = setTimeout(() => settle(edits), A_MOMENT_MS);
    return () => clearTimeout(timer);
  }, [edits]);
  const trial = useQuery({
    queryKey: ["trial", settled],
    enabled: settled.length > 0,
    queryFn: ({ signal }) => tried(settled, false, signal),
    placeholderData: (before) => before,
  });
  const sound = edits.length > 0 && trial.data?.problems.length === 0 && !trial.isPlaceholderData;
  const effects = useQuery({
    queryKey: ["effects", settled],
    enabled: sound,
    queryFn: async ({ signal }) => (await tried(settled, true, signal)).effects,
  });
  const checking = trial.isFetching || settled !== edits;
  return {
    data: edits.length ? trial.data : undefined,
    error: trial.error ?? effects.error,
    isFetching: edits.length > 0 && checking,
    effects: sound && !checking ? effects.data : undefined,
  };
}

/** Checks are quick; whom it changes takes a look at everybody's evidence. What newer edits have overtaken is given up. */
const tried = (edits: Edit[], effects: boolean, signal: AbortSignal) =>
  ask(
    client.POST("/api/syllabus/try", {
      params: { query: { effects } },
      body: { edits: asSent(edits) },
      signal,
    }),
  );
