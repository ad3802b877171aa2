import type { LineStanding } from "../api/client";

const STEP = 13;
const WIDE = 34;

/** A bay that has stepped back: its rungs and its clip in small, to be brought near with a tap. */
export function FarBay({ line, onCome }: { line: LineStanding; onCome: () => void }) {
  const drills = line.rungs.flat();
  const met = drills.filter((d) => d.state !== "not yet").length;
  const height = line.rungs.length * STEP + 14;
  return (
    <button
      type="button"
      onClick={onCome}
      title={`Bring the ${line.title} line near`}
      aria-label={`${line.title} line, ${met} of ${drills.length} gates met; bring it near`}
      className="flex min-w-9 shrink-0 flex-col items-center justify-end gap-2 px-1 hover:bg-tint"
    >
      <span className="rotate-180 font-head text-sm text-soft [writing-mode:vertical-rl]">{line.title}</span>
      <svg width={WIDE + 8} height={height} aria-hidden="true">
        {[4, WIDE - 1].map((x) => (
          <rect key={x} x={x} width="5" height={height} rx="2" fill="var(--wood)" opacity="0.55" />
        ))}
        {line.rungs.map((rung, place) => {
          const required = rung.filter((d) => !d.optional);
          const shown = required.length ? required : rung;
          const filled = shown.every((d) => d.state !== "not yet");
          const y = height - 10 - place * STEP;
          return (
            <rect
              key={rung[0]?.drill}
              x="9.5"
              y={y}
              width={WIDE - 11}
              height="5"
              fill={filled ? "var(--wood)" : "none"}
              stroke="var(--darkwood)"
              strokeWidth="0.75"
              opacity={filled ? 0.8 : 0.5}
            />
          );
        })}
        {line.perch_rung >= 0 && (
          <rect
            x="0"
            y={height - 14 - line.perch_rung * STEP}
            width="13"
            height="12"
            rx="2"
            fill="var(--soft)"
          />
        )}
      </svg>
    </button>
  );
}
