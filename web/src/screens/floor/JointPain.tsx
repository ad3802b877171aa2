import type { Pain } from "../../api/client";

interface Props {
  joint: string;
  pain: Pain | undefined;
  onFlip: () => void;
  onChange: (part: Partial<Pain>) => void;
}

/** Whether a joint hurts, how much, and whether it is sharp. */
export function JointPain({ joint, pain, onFlip, onChange }: Props) {
  return (
    <div className={pain ? "col-span-2 border-l-4 border-brick pl-3" : ""}>
      <label className="flex min-h-11 items-center gap-3">
        <input
          type="checkbox"
          className="h-6 w-6 accent-blue"
          checked={pain !== undefined}
          onChange={onFlip}
        />
        {joint}
      </label>
      {pain && (
        <div className="flex flex-wrap items-center gap-4 pb-2">
          <label className="flex items-center gap-2">
            0 to 10
            <input
              type="number"
              aria-label={`${joint}, 0 to 10`}
              inputMode="numeric"
              min={0}
              max={10}
              className="field w-20"
              value={pain.level}
              onChange={(event) => onChange({ level: Math.min(10, Math.max(0, Number(event.target.value))) })}
            />
          </label>
          <label className="flex min-h-11 items-center gap-2">
            <input
              type="checkbox"
              className="h-6 w-6 accent-blue"
              checked={pain.sharp}
              onChange={(event) => onChange({ sharp: event.target.checked })}
            />
            sharp, lasting or tingling
          </label>
        </div>
      )}
    </div>
  );
}
