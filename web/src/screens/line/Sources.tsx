import { type DragEvent, useId, useState } from "react";
import { standIn, useStandIns } from "../../line/standIns";
import { Button, buttonLook } from "../../parts/Button";

interface Props {
  onFile: (file: File) => void;
  onCamera: () => void;
  onWrong: (words: string) => void;
  advice: string[];
}

/** Where a picture comes from: a file, dropped or picked, the camera on a tap, or one of the drawn ones. */
export function Sources({ onFile, onCamera, onWrong, advice }: Props) {
  const [over, setOver] = useState(false);
  const drawn = useStandIns();
  const picked = useId();
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    const file = event.dataTransfer.files[0];
    if (file) onFile(file);
  };
  const take = (name: string) => {
    const film = drawn.data?.films.some((f) => f.name === name) ?? false;
    standIn(name, film).then(onFile, (error: Error) => onWrong(error.message));
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: a file can be dropped here; the button beside it picks one by keys
    <div
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
      className={`border-2 border-dashed px-5 py-5 ${over ? "border-blue bg-tint" : "border-darkwood"}`}
    >
      <p className="font-head text-xl font-bold">Drop a still or a film here</p>
      <div className="mt-3 flex flex-wrap items-center gap-3">
        <label htmlFor={picked} className={`${buttonLook("act")} cursor-pointer focus-within:outline-2`}>
          Pick a file
          <input
            id={picked}
            type="file"
            accept="image/*,video/*,.json,.csv"
            className="sr-only"
            onChange={(event) => {
              const file = event.target.files?.[0];
              event.target.value = "";
              if (file) onFile(file);
            }}
          />
        </label>
        <Button onClick={onCamera}>Use the camera</Button>
        <span className="text-soft">
          <select
            aria-label="A drawn picture"
            className="field"
            value=""
            onChange={(event) => take(event.target.value)}
          >
            <option value="">Try it with a drawn one …</option>
            <optgroup label="Stills">
              {drawn.data?.stills.map((s) => (
                <option key={s.name} value={s.name}>
                  {s.title}
                </option>
              ))}
            </optgroup>
            <optgroup label="Films">
              {drawn.data?.films.map((s) => (
                <option key={s.name} value={s.name}>
                  {s.title}
                </option>
              ))}
            </optgroup>
          </select>
        </span>
      </div>
      <ul className="mt-4 list-disc pl-5 text-[0.9375rem] text-soft">
        {advice.map((words) => (
          <li key={words}>{words}</li>
        ))}
      </ul>
    </div>
  );
}
