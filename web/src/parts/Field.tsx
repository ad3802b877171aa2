import { type ReactNode, useId } from "react";

interface Props {
  label: string;
  hint?: string | undefined;
  children: (id: string) => ReactNode;
}

/** A label above its control. */
export function Field({ label, hint, children }: Props) {
  const id = useId();
  return (
    <div className="mb-4">
      <label htmlFor={id} className="mb-1 block font-bold">
        {label}
      </label>
      {children(id)}
      {hint && <p className="mt-1 text-sm text-soft">{hint}</p>}
    </div>
  );
}

interface TextProps {
  label: string;
  name: string;
  hint?: string;
  value?: string | undefined;
  required?: boolean;
  most?: number;
}

/** A line of text to type, as a form sends it. */
export function TextField({ label, name, hint, value, required = false, most = 120 }: TextProps) {
  return (
    <Field label={label} hint={hint}>
      {(id) => (
        <input
          id={id}
          name={name}
          required={required}
          maxLength={most}
          className="field"
          defaultValue={value}
        />
      )}
    </Field>
  );
}

interface ChoiceProps<T extends string> {
  legend: string;
  options: readonly (readonly [T, string])[];
  value: T | "";
  onPick: (value: T) => void;
}

/** One of a few, all in sight. */
export function Choice<T extends string>({ legend, options, value, onPick }: ChoiceProps<T>) {
  const name = useId();
  return (
    <fieldset className="mb-4">
      <legend className="mb-1 font-bold">{legend}</legend>
      <div className="flex flex-wrap gap-2">
        {options.map(([key, words]) => (
          <label
            key={key}
            className="flex min-h-11 cursor-pointer items-center gap-2 rounded-md border border-soft px-3 has-checked:border-blue has-checked:bg-tint has-focus-visible:outline-3 has-focus-visible:outline-blue"
          >
            <input
              type="radio"
              name={name}
              className="accent-blue"
              checked={value === key}
              onChange={() => onPick(key)}
            />
            {words}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
