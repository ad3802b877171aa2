import { useState } from "react";
import type { DrillStanding, LineStanding } from "../api/client";
import { STATE } from "../parts/words";
import { FarBay } from "./FarBay";
import { Rung } from "./Rung";

interface Props {
  lines: LineStanding[];
  /** The bays that stand in front; the others step back until they are asked for. */
  near: string[];
  /** The drills that are on the way to the goal. */
  path: ReadonlySet<string>;
  /** What a rung puts on the trainee's hands, by drill. */
  shares: Record<string, { share: string; at: string }>;
  onPick: (drill: string) => void;
}

/** The wall bars: one bay a line, one bar a drill, easy at the bottom, the clip at the perch. */
export function WallBars({ lines, near, path, shares, onPick }: Props) {
  const [turned, turn] = useState<ReadonlySet<string>>(new Set());
  const titles = titlesOf(lines);
  return (
    <div className="flex gap-3 overflow-x-auto px-1 pb-1 pt-1 print:flex-wrap print:overflow-visible max-sm:snap-x max-sm:gap-4 max-sm:scroll-px-7">
      {lines.map((line) => {
        const swap = () => {
          const next = new Set(turned);
          if (!next.delete(line.line)) next.add(line.line);
          turn(next);
        };
        return near.includes(line.line) !== turned.has(line.line) ? (
          <Bay
            key={line.line}
            line={line}
            titles={titles}
            path={path}
            shares={shares}
            onPick={onPick}
            onStepBack={swap}
          />
        ) : (
          <FarBay key={line.line} line={line} onCome={swap} />
        );
      })}
    </div>
  );
}

const titlesOf = (lines: LineStanding[]) =>
  new Map(lines.flatMap((line) => line.rungs.flat().map((d) => [d.drill, d.title])));

interface BayProps {
  line: LineStanding;
  titles: Map<string, string>;
  path: ReadonlySet<string>;
  shares: Props["shares"];
  onPick: (drill: string) => void;
  onStepBack: () => void;
}

function Bay({ line, titles, path, shares, onPick, onStepBack }: BayProps) {
  return (
    <section
      className="@container mx-3 flex min-w-49 flex-1 max-sm:min-w-60 snap-start flex-col max-sm:order-first"
      aria-label={`${line.title} line`}
    >
      <h2 className="mb-1 flex items-baseline justify-between gap-2 text-xl">
        {line.title}
        <button
          type="button"
          onClick={onStepBack}
          className="font-sans text-xs font-normal text-soft underline"
          aria-label={`step back: ${line.title} line`}
        >
          step back
        </button>
      </h2>
      <ol className="flex flex-1 flex-col-reverse justify-start border-x-[7px] border-darkwood px-[5px] pb-2 pt-2">
        {line.rungs.map((rung, height) => (
          <li key={rung[0]?.drill} className={rung.length > 1 ? "relative" : ""}>
            {rung.length > 1 && (
              <span
                title="These stand on one rung, in no order"
                className="absolute bottom-1 right-[-3px] top-2 w-[5px] border-y border-r border-darkwood"
              />
            )}
            <ul className="flex flex-col-reverse">
              {rung.map((d) => (
                <li key={d.drill} className="relative">
                  {height === line.perch_rung && d.drill === line.perch && <Clip />}
                  <Bar
                    d={d}
                    lit={path.size ? path.has(d.drill) : line.ahead.includes(d.drill)}
                    dim={path.size > 0 && !path.has(d.drill)}
                    share={shares[d.drill]}
                    waitsFor={waitsFor(d, titles)}
                    onPick={onPick}
                  />
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ol>
    </section>
  );
}

function waitsFor(d: DrillStanding, titles: Map<string, string>) {
  const wait = d.waits[0];
  if (!wait) return "";
  if (wait.state === "cleared") return "your confirmation";
  if (wait.state === "caution") return "closed by the intake";
  return wait.state === "enough" ? "enough together" : (titles.get(wait.any_of[0] ?? "") ?? "").toLowerCase();
}

interface BarProps {
  d: DrillStanding;
  lit: boolean;
  dim: boolean;
  waitsFor: string;
  share: { share: string; at: string } | undefined;
  onPick: (drill: string) => void;
}

function Bar({ d, lit, dim, waitsFor, share, onPick }: BarProps) {
  const closed = !d.open && d.state === "not yet";
  const now = lit && d.open;
  // what the eye reads off the bar's wood and bolts
  const spoken = `${STATE[d.state]}: ${d.shortfall}${closed ? `, closed until ${waitsFor}` : ""}${d.out_of_order ? ", passed out of order" : ""}${lit ? ", on the way" : ""}`;
  return (
    <button
      type="button"
      title={closed ? d.waits.map((w) => w.sentence).join("; ") : d.shortfall}
      onClick={() => onPick(d.drill)}
      data-dim={dim || undefined}
      className={`block min-h-6 w-full px-[3px] ${dim || (closed && lit) ? "pt-px" : "pt-[2px]"} text-left hover:bg-tint ${lit ? "bg-tint/60" : ""}`}
    >
      <span
        className={`flex justify-between gap-2 px-1 ${dim || (closed && lit) ? "text-xs leading-[1.0625rem]" : "text-[0.8125rem] leading-[1.0625rem]"}`}
      >
        <span className={`truncate ${now ? "font-bold" : closed || dim ? "text-faint" : ""}`}>
          {d.title}
          {d.out_of_order && <span className="text-soft"> · ahead of its rung</span>}
          {share && (
            <span className="font-normal text-soft" title={share.at || undefined}>
              {" "}
              · {share.share} <span className="sr-only">of body weight on the hands</span>
            </span>
          )}
        </span>{" "}
        <span
          className={`shrink-0 whitespace-nowrap ${now ? "font-bold text-blue" : closed ? "hidden max-w-[55%] truncate text-faint @[21rem]:inline" : "text-soft"}`}
        >
          {d.state === "waived" ? "waived" : closed ? `waits: ${waitsFor}` : d.figure}
        </span>
      </span>
      <span className="sr-only"> {spoken}</span>
      <Rung state={d.state} fill={d.fill} open={d.open} pale={dim || (closed && lit)} />
    </button>
  );
}

/** The clip sits on the perch of its bay. */
function Clip() {
  return (
    <svg
      className="absolute -left-[26px] bottom-[-4px] z-10"
      width="27"
      height="21"
      role="img"
      aria-label="perch"
    >
      <rect width="27" height="21" rx="3" fill="var(--blue)" />
      <path d="M9 7.5h9M9 13.5h9" stroke="var(--onblue)" strokeWidth="2" />
    </svg>
  );
}
