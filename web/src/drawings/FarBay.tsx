import type { LineStanding } from "../api/client";

/** A bay that has stepped back: its rungs and its clip in small, to be brought near with a tap. */
export function FarBay({ line, onCome }: { line: LineStanding; onCome: () => void }) {
  const drills = line.rungs.flat();
  const met = drills.filter((d) => d.state !== "not yet").length;
  return (
    <button
      type="button"
      onClick={onCome}
      title={`Bring the ${line.title} line near`}
      aria-label={`${line.title} line, ${met} of ${drills.length} gates met; bring it near`}
      className="flex w-12 shrink-0 flex-col items-center hover:bg-tint"
    >
      <span className="mb-1 flex h-36 justify-end whitespace-nowrap font-head text-sm text-soft [writing-mode:vertical-rl]">
        <span className="rotate-180">{line.title}</span>
      </span>
      <span
        aria-hidden="true"
        className="flex w-9 flex-1 flex-col-reverse justify-between border-x-[5px] border-wood/50 px-px py-2"
      >
        {line.rungs.map((rung, place) => (
          <FarRung key={rung[0]?.drill} rung={rung} clip={place === line.perch_rung} />
        ))}
      </span>
    </button>
  );
}

function FarRung({ rung, clip }: { rung: LineStanding["rungs"][number]; clip: boolean }) {
  const required = rung.filter((d) => !d.optional);
  const shown = required.length ? required : rung;
  const filled = shown.every((d) => d.state !== "not yet");
  return (
    <span
      className={`relative block h-[6px] border border-darkwood/60 ${filled ? "bg-wood/80" : "bg-transparent"}`}
    >
      {clip && <span className="absolute -left-3 -top-1 h-3 w-3.5 rounded-xs bg-soft" />}
    </span>
  );
}
