import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { v7 as uuidv7 } from "uuid";
import { ask, client } from "../../api/client";
import { Button } from "../../parts/Button";

/** An empty kit is ticked rather than typed: what often lies in a hall, and how many of it. */
export function UsualKit({ onAdded, onWrong }: { onAdded: () => void; onWrong: (error: unknown) => void }) {
  const usual = useQuery({ queryKey: ["kit", "usual"], queryFn: () => ask(client.GET("/api/kit/usual")) });
  const [ticked, tick] = useState<ReadonlyMap<string, number>>(new Map());
  const put = (words: string, count: number | null) => {
    const next = new Map(ticked);
    if (count) next.set(words, count);
    else next.delete(words);
    tick(next);
  };
  const add = async () => {
    try {
      for (const piece of usual.data ?? []) {
        const count = ticked.get(piece.words);
        const { kind, thickness_cm } = piece;
        if (count)
          await ask(client.POST("/api/kit", { body: { id: uuidv7(), kind, thickness_cm, count, note: "" } }));
      }
      onAdded();
    } catch (error) {
      onWrong(error);
    }
  };
  return (
    <div className="border-l-4 border-wood bg-sheet px-4 py-3">
      <p className="mb-2">Tick what lies there. Measure it when there is time, and put it right.</p>
      <ul className="grid gap-x-6 sm:grid-cols-2">
        {(usual.data ?? []).map((piece) => (
          <li key={piece.words} className="flex min-h-11 items-center gap-3">
            <label className="flex grow items-center gap-3">
              <input
                type="checkbox"
                className="h-6 w-6 accent-blue"
                checked={ticked.has(piece.words)}
                onChange={(event) => put(piece.words, event.target.checked ? piece.count : null)}
              />
              {piece.words}
            </label>
            {ticked.has(piece.words) && (
              <input
                aria-label={`How many: ${piece.words}`}
                type="number"
                min={1}
                max={99}
                className="field w-20"
                value={ticked.get(piece.words)}
                onChange={(event) => put(piece.words, Math.max(1, Number(event.target.value)))}
              />
            )}
          </li>
        ))}
      </ul>
      <Button kind="act" className="mt-2" disabled={ticked.size === 0} onClick={() => void add()}>
        Add what is ticked
      </Button>
    </div>
  );
}
