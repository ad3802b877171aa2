import { useEffect, useState } from "react";
import type { LeversPage, Position } from "../../api/client";
import { type Settings, usePosition, useTrainees } from "../../api/hooks";
import { Button } from "../../parts/Button";

interface Props {
  page: LeversPage;
  lever: string;
  settings: Settings;
  /** The position as it stands, which can be held to compare with. */
  held: Position;
  onBeside: (beside: { name: string; position: Position | null } | undefined) => void;
}

/** Two settings of one trainee, or one setting of two. */
export function Compared({ page, lever, settings, held, onBeside }: Props) {
  const [other, setOther] = useState("");
  const [fixed, setFixed] = useState(false);
  const theirs = usePosition(other, lever, settings, other !== "");
  const others = useTrainees().data?.filter((o) => o.id !== page.trainee.id) ?? [];
  const name = others.find((o) => o.id === other)?.name ?? "";
  const { data, error } = theirs;
  useEffect(() => {
    if (!other) return;
    onBeside({ name, position: data ?? null });
  }, [other, name, data, onBeside]);
  const stop = () => {
    setOther("");
    setFixed(false);
    onBeside(undefined);
  };
  const hold = () => {
    setOther("");
    setFixed(true);
    const said = Object.values(held.settings).join(" / ");
    onBeside({ name: `Held (${said})`, position: held });
  };
  return (
    <section aria-label="Compare" className="mt-4 border-t border-rule pt-3">
      <div className="flex flex-wrap items-center gap-2">
        <Button onClick={hold}>Hold to compare</Button>
        <select
          aria-label="Compare with another trainee"
          className="field max-w-52"
          value={other}
          onChange={(event) => {
            setFixed(false);
            setOther(event.target.value);
            if (!event.target.value) onBeside(undefined);
          }}
        >
          <option value="">or with …</option>
          {others.map((o) => (
            <option key={o.id} value={o.id}>
              {o.name}
            </option>
          ))}
        </select>
        {(fixed || other) && (
          <Button kind="quiet" onClick={stop}>
            Stop comparing
          </Button>
        )}
      </div>
      {other && error && (
        <p className="mt-1 text-sm">
          {name}: {error.message}
        </p>
      )}
      {(fixed || (other && data)) && (
        <p className="mt-1 text-sm text-soft">Drawn pale behind. Figures stand under each other.</p>
      )}
    </section>
  );
}
