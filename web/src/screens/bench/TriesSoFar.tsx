import { useState } from "react";
import type { LiveRun, LiveTry } from "../../live/run";
import { Button } from "../../parts/Button";
import { PutRight } from "./PutRight";
import { tryWords } from "./tryWords";

interface Props {
  run: LiveRun;
  tries: LiveTry[];
}

/** Every try in words, each of which can be put right; what it said before stays in sight. */
export function TriesSoFar({ run, tries }: Props) {
  const [wrong, setWrong] = useState<LiveTry | null>(null);
  if (!tries.length) return null;
  return (
    <details className="mt-2">
      <summary className="min-h-11 cursor-pointer py-2 font-bold">The tries in words</summary>
      <ol>
        {tries.map((t) => (
          <li key={t.id} className="flex flex-wrap items-center gap-x-4 border-b border-rule py-1">
            <span className="w-8 text-right font-bold tabular-nums">{t.number}</span>
            <span className="grow">
              {tryWords(t, run)}
              <Before run={run} t={t} />
            </span>
            <Button kind="quiet" className="text-sm underline" onClick={() => setWrong(t)}>
              Put try {t.number} right
            </Button>
          </li>
        ))}
      </ol>
      {wrong && <PutRight run={run} old={wrong} onClose={() => setWrong(null)} />}
    </details>
  );
}

/** What a corrected try said before, back to the first. */
function Before({ run, t }: { run: LiveRun; t: LiveTry }) {
  const old = run.tries.find((other) => other.id === t.replaces);
  if (!old) return null;
  return (
    <span className="block text-sm text-soft">
      put right, before: <s>{tryWords(old, run)}</s>
      <Before run={run} t={old} />
    </span>
  );
}
