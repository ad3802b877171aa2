import { Slider } from "radix-ui";
import { useId, useState } from "react";
import type { Knob } from "../../api/client";
import type { Settings } from "../../api/hooks";

interface Props {
  knobs: Knob[];
  settings: Settings;
  onSet: (knob: string, value: number) => void;
  /** A hand comes near a knob, or the keys do. */
  onTouch: (knob: string) => void;
}

/** Every knob of a position: dragged, stepped by keys, or typed. */
export function Dials({ knobs, settings, onSet, onTouch }: Props) {
  return (
    <div className="grid gap-x-8 gap-y-2 sm:grid-cols-2">
      {knobs.map((knob) => (
        // biome-ignore lint/a11y/noStaticElementInteractions: what is in it is worked; this only looks ahead
        <div
          key={knob.knob}
          onPointerEnter={() => onTouch(knob.knob)}
          onPointerDown={() => onTouch(knob.knob)}
          onFocus={() => onTouch(knob.knob)}
        >
          <Dial
            title={knob.title}
            unit={knob.unit === "deg" ? "°" : "cm"}
            least={knob.least}
            most={knob.most}
            step={knob.notch}
            value={settings[knob.knob] ?? knob.least}
            onSet={(value) => onSet(knob.knob, value)}
          />
        </div>
      ))}
    </div>
  );
}

interface DialProps {
  title: string;
  unit: string;
  least: number;
  most: number;
  step: number;
  value: number;
  onSet: (value: number) => void;
}

/** One knob: drag it or type it. */
export function Dial({ title, unit, least, most, step, value, onSet }: DialProps) {
  const id = useId();
  const [typed, setTyped] = useState(String(value));
  // a value moved from elsewhere is taken over while drawing: an effect would wipe what is typed meanwhile
  const [shown, setShown] = useState(value);
  if (shown !== value) {
    setShown(value);
    setTyped(String(value));
  }
  const keep = (text: string) => {
    setTyped(text);
    const wanted = Number(text);
    if (text.trim() !== "" && Number.isFinite(wanted) && wanted >= least && wanted <= most) onSet(wanted);
  };
  const off = typed.trim() === "" || !(Number(typed) >= least && Number(typed) <= most);
  return (
    <div>
      <div className="flex items-center gap-3">
        <label htmlFor={id} className="grow font-bold">
          {title}
        </label>
        <input
          id={id}
          type="number"
          inputMode="decimal"
          min={least}
          max={most}
          step={step}
          className="field max-w-24 text-right"
          value={typed}
          aria-invalid={off}
          aria-describedby={off ? `${id}-off` : undefined}
          onChange={(event) => keep(event.target.value)}
          onBlur={() => setTyped(String(value))}
        />
        <span className="w-6 text-soft">{unit}</span>
      </div>
      <Slider.Root
        className="relative flex h-11 touch-none max-sm:h-14 select-none items-center"
        min={least}
        max={most}
        step={step}
        value={[value]}
        onValueChange={([next]) => next !== undefined && onSet(next)}
      >
        <Slider.Track className="relative h-2 grow rounded-full bg-rule">
          <Slider.Range className="absolute h-full rounded-full bg-wood" />
        </Slider.Track>
        <Slider.Thumb
          aria-label={`${title}, ${unit === "°" ? "degrees" : unit}`}
          className="block h-8 w-8 rounded-full border-4 border-paper bg-blue"
        />
      </Slider.Root>
      {off && (
        <p id={`${id}-off`} className="text-sm text-soft">
          From {least} to {most} {unit}.
        </p>
      )}
    </div>
  );
}
