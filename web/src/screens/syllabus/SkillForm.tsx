import type { EasingPage, Wanted } from "../../api/client";

interface Props {
  wanted: Wanted;
  easing: EasingPage;
  onSay: (said: {
    form: string;
    at: Record<string, string>;
    gate?: Wanted["gate"];
    pillar?: Wanted["pillar"];
  }) => void;
}

/** What kind of skill it is and what its standard is: read from its name, and put right here. */
export function SkillForm({ wanted, easing, onSay }: Props) {
  const { ways, forms } = easing.easing;
  const form = forms.find((f) => f.form === wanted.form);
  const { gate } = wanted;
  const say = (at: Record<string, string>, next: Partial<Wanted["gate"]> = {}) =>
    onSay({
      form: wanted.form,
      at,
      gate: { ...gate, ...next, origin: "ours" },
      pillar: wanted.pillar,
    });
  const at = wanted.at as Record<string, string>;
  return (
    <fieldset className="mb-5 flex min-w-0 flex-wrap items-end gap-x-4 gap-y-2 border-b border-rule pb-4">
      <legend className="sr-only">The skill</legend>
      <Pick
        label="What it is"
        value={wanted.form}
        options={forms.map((f) => [f.form, f.title])}
        onPick={(name) => onSay({ form: name, at })}
      />
      {ways
        .filter((way) => form?.asks.includes(way.way))
        .map((way) => (
          <Pick
            key={way.way}
            label={way.title}
            value={at[way.way] ?? ""}
            options={way.steps.map((s) => [s.step, s.title])}
            onPick={(step) => say({ ...at, [way.way]: step })}
          />
        ))}
      <Pick
        label="It builds"
        value={wanted.pillar ?? form?.pillar ?? ""}
        options={Object.entries(easing.pillars)}
        onPick={(pillar) =>
          onSay({ form: wanted.form, at, gate, pillar: pillar as NonNullable<Wanted["pillar"]> })
        }
      />
      <Pick
        label="Measured in"
        value={gate.measure}
        options={Object.entries(easing.measures)}
        onPick={(measure) =>
          say(at, { measure: measure as typeof gate.measure, of: measure === "rate" ? 10 : null, at: null })
        }
      />
      <Amount label="Standard" value={gate.value} onSet={(value) => say(at, { value })} />
      {gate.of !== null && <Amount label="of" value={gate.of} onSet={(of) => say(at, { of })} />}
      <label className="flex min-h-11 items-center gap-2">
        <input
          type="checkbox"
          className="accent-blue"
          checked={gate.each_side}
          onChange={(event) => say(at, { each_side: event.target.checked })}
        />
        each side
      </label>
    </fieldset>
  );
}

interface PickProps {
  label: string;
  value: string;
  options: (readonly [string, string])[];
  onPick: (value: string) => void;
}

function Pick({ label, value, options, onPick }: PickProps) {
  return (
    <label className="max-w-full text-sm text-soft">
      {label}
      <select
        className="field block w-auto max-w-full text-base text-ink"
        value={value}
        onChange={(event) => onPick(event.target.value)}
      >
        {options.map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
    </label>
  );
}

interface AmountProps {
  label: string;
  value: number;
  onSet: (value: number) => void;
}

/** A number, taken when the field is left, so that no half-typed figure is asked about. */
export function Amount({ label, value, onSet }: AmountProps) {
  const take = (text: string) => {
    const read = Number(text);
    if (text !== "" && Number.isFinite(read) && read !== value) onSet(read);
  };
  return (
    <label className="text-sm text-soft">
      {label}
      <input
        key={value}
        type="number"
        step="any"
        min={0}
        defaultValue={value}
        className="field block w-24 text-base text-ink"
        onBlur={(event) => take(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter") take(event.currentTarget.value);
        }}
      />
    </label>
  );
}
