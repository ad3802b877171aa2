import type { Block } from "../api/client";

/** One block of a ribbon, by its time in seconds. */
export interface RibbonPart {
  key: string;
  title: string;
  /** What stands below the title: setting and dose. */
  lines: string[];
  startS: number;
  lengthS: number;
  kind: Block["kind"];
  strength: boolean;
  /** Share of the block that is rest, 0 to 1, and how many rests there are. */
  rests: number;
  state?: "done" | "left out" | "present";
  pinned?: boolean;
}

interface Props {
  label: string;
  parts: RibbonPart[];
  /** What the whole width stands for, s. */
  wholeS: number;
  chosen?: string | undefined;
  onChoose?: ((key: string) => void) | undefined;
  /** Where the marker stands, s. */
  markerS?: number | undefined;
}

const NARROW = 0.085;
const WIDE = 0.12;

/** A session as a band of blocks to scale in time: preparation light, work in wood, strength darker; rests are the open gaps below. */
export function SessionRibbon({ label, parts, wholeS, chosen, onChoose, markerS }: Props) {
  // blocks to be picked stay wide enough for a thumb: the shortest take their room from the others, so none
  // lies over the next, and on a small screen the band is moved sideways
  const endS = Math.max(...parts.map((part) => part.startS + part.lengthS));
  return (
    <div className={onChoose ? "max-sm:overflow-x-auto max-sm:px-1" : ""}>
      <div className={`relative pb-6 pt-1 ${onChoose ? "max-sm:min-w-[44rem]" : ""}`}>
        <ol
          aria-label={label}
          className={`relative h-[5.5rem] ${onChoose ? "flex gap-0.5" : ""}`}
          style={onChoose && { width: `${(100 * endS) / wholeS}%` }}
        >
          {parts.map((part) => (
            <li
              key={part.key}
              className={onChoose ? "relative min-w-[1.625rem]" : "absolute inset-y-0 min-w-3"}
              style={
                onChoose
                  ? { flex: `${part.lengthS} 1 0` }
                  : {
                      left: `${(100 * part.startS) / wholeS}%`,
                      width: `calc(${(100 * part.lengthS) / wholeS}% - 2px)`,
                    }
              }
            >
              <Part part={part} share={part.lengthS / wholeS} chosen={chosen} onChoose={onChoose} />
              <span aria-hidden="true" className="absolute left-0 top-full mt-0.5 text-xs text-faint">
                {Math.round(part.startS / 60)}
              </span>
            </li>
          ))}
        </ol>
        {markerS !== undefined && (
          <span
            aria-hidden="true"
            className="absolute bottom-5 top-0 w-1 -translate-x-1/2 rounded bg-blue before:absolute before:-top-1 before:left-1/2 before:-translate-x-1/2 before:border-x-8 before:border-t-8 before:border-x-transparent before:border-t-blue"
            style={{ left: `${Math.min(100, (100 * markerS) / wholeS)}%` }}
          />
        )}
      </div>
    </div>
  );
}

interface PartProps {
  part: RibbonPart;
  /** How much of the whole width it has. */
  share: number;
  chosen: string | undefined;
  onChoose: ((key: string) => void) | undefined;
}

function Part({ part, share, chosen, onChoose }: PartProps) {
  const narrow = share < NARROW;
  // where there is little room the dose says more than the setting
  const lines = share < WIDE ? part.lines.slice(-1) : part.lines;
  const done = part.state === "done";
  const light = part.kind === "prepare" || done;
  const wood = light ? "bg-lightwood" : "bg-wood";
  const gone = part.state === "left out";
  const look = `relative block h-full w-full overflow-hidden rounded-sm border border-darkwood text-left leading-tight ${
    gone ? "border-dashed bg-paper text-soft" : `${wood} ${light ? "text-ink" : "text-onwood"}`
  } ${chosen === part.key ? "outline-4 outline-offset-1 outline-blue" : ""}`;
  const more = [`, ${Math.ceil(part.lengthS / 60)} min`, part.pinned ? "pinned" : "", part.state ?? ""]
    .filter(Boolean)
    .join(", ");
  const inside = (
    <>
      {part.strength && !gone && !done && (
        <span aria-hidden="true" className="absolute inset-x-0 top-0 h-1.5 bg-darkwood" />
      )}
      {narrow ? (
        <span className="absolute inset-0 flex items-center justify-start overflow-hidden py-1.5 text-xs font-bold leading-[1.05] [writing-mode:vertical-rl] rotate-180">
          {done && <span aria-hidden="true">✓ </span>}
          {part.title}
        </span>
      ) : (
        <span className="absolute inset-x-0 top-0 block px-1.5 pt-2 text-[0.8125rem]">
          <span className={`font-bold ${part.lines.length ? "line-clamp-2" : "line-clamp-4"}`}>
            {done && <span aria-hidden="true">✓ </span>}
            {part.pinned && <span aria-hidden="true">◆ </span>}
            {part.title}
          </span>{" "}
          {lines.map((line) => (
            <span key={line} className="block truncate">
              {line}
            </span>
          ))}
        </span>
      )}
      <span className="sr-only">
        {narrow ? ` ${part.lines.join(" ")}` : ""}
        {more}
      </span>
      {part.rests > 0 && !gone && !narrow && <Rests n={part.rests} />}
    </>
  );
  if (!onChoose) return <span className={look}>{inside}</span>;
  return (
    <button
      type="button"
      className={look}
      aria-pressed={chosen === part.key}
      onClick={() => onChoose(part.key)}
    >
      {inside}
    </button>
  );
}

/** The rests of a block, as gaps along its lower edge. */
function Rests({ n }: { n: number }) {
  const shown = Math.min(n, 8);
  return (
    <span aria-hidden="true" className="absolute inset-x-2 bottom-1.5 flex justify-around">
      {Array.from({ length: shown }, (_, k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the gaps are alike and only counted
        <span key={k} className="h-1 w-[9%] max-w-6 bg-paper" />
      ))}
    </span>
  );
}
