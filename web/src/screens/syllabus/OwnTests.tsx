import { useState } from "react";
import type { Edit, OwnTest, SyllabusPage } from "../../api/client";
import { Button } from "../../parts/Button";
import { OwnTestForm } from "./OwnTestForm";

interface Props {
  page: SyllabusPage;
  content: SyllabusPage["content"];
  onEdit: (edit: Edit) => void;
}

/** The tests that ship, to set aside, and tests of one's own for the gate of any drill. */
export function OwnTests({ page, content, onEdit }: Props) {
  const [open, setOpen] = useState<OwnTest | "new" | null>(null);
  const aside = new Set(content.tests_aside);
  const own = content.own_tests;
  const set = (test: string, drill: string) => onEdit({ drill, test, aside: !aside.has(test) });
  return (
    <section aria-label="Tests">
      <p className="mb-3 text-soft">
        A test that is set aside is not offered any more and never falls due. What was tested with it still
        counts.
      </p>
      <h2 className="text-xl">Your own</h2>
      {own.length === 0 && <p className="text-soft">None yet.</p>}
      <ul className="mb-3">
        {own.map((t) => (
          <Row
            key={t.test}
            title={t.title}
            about={`For ${titleOf(content, t.drill)}. ${page.testing.ways.find((w) => w.way === t.way)?.title}.`}
            aside={aside.has(t.test)}
            onAside={() => set(t.test, t.drill)}
            onOpen={() => setOpen(t)}
          />
        ))}
      </ul>
      {open === null ? (
        <Button onClick={() => setOpen("new")}>A test of my own</Button>
      ) : (
        <OwnTestForm
          key={open === "new" ? "new" : open.test}
          page={page}
          content={content}
          first={open === "new" ? null : open}
          onDone={(test) => {
            if (test) onEdit({ drill: test.drill, own_test: test });
            setOpen(null);
          }}
        />
      )}
      <h2 className="mt-6 text-xl">Ours</h2>
      <ul>
        {page.tests.map((t) => (
          <Row
            key={t.test}
            title={t.title}
            about={t.about}
            aside={aside.has(t.test)}
            onAside={() => set(t.test, "")}
          />
        ))}
      </ul>
    </section>
  );
}

/** A drill as it stands inside a sentence. */
export function titleOf(content: SyllabusPage["content"], drill: string): string {
  const title = content.lines.flatMap((l) => l.rungs.flat()).find((d) => d.drill === drill)?.title ?? drill;
  return title.charAt(0).toLowerCase() + title.slice(1);
}

interface RowProps {
  title: string;
  about: string;
  aside: boolean;
  onAside: () => void;
  onOpen?: () => void;
}

function Row({ title, about, aside, onAside, onOpen }: RowProps) {
  return (
    <li className="flex flex-wrap items-center justify-between gap-x-4 gap-y-1 border-b border-rule py-2">
      <span className={`min-w-0 flex-1 basis-64 ${aside ? "text-soft" : ""}`}>
        <b>{title}</b>
        {aside && " (set aside)"}
        <span className="block text-sm text-soft">{about}</span>
      </span>
      <span className="flex gap-2">
        {onOpen && (
          <Button aria-label={`Change ${title}`} onClick={onOpen}>
            Change
          </Button>
        )}
        <Button aria-label={`${aside ? "Use again" : "Set aside"}: ${title}`} onClick={onAside}>
          {aside ? "Use again" : "Set aside"}
        </Button>
      </span>
    </li>
  );
}
