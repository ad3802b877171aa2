/** The letter by which a length stands in the sketch. */
export const LETTERS: Record<string, string> = {
  stature: "S",
  arm: "A",
  trunk: "B",
  leg: "C",
  hand: "D",
  "shoulder-to-crown": "E",
  forearm: "F",
  foot: "G",
};

/** Where each length begins and ends in the sketch: a measure line from one point to the other. */
const LINES: Record<string, readonly [number, number, number, number]> = {
  stature: [26, 20, 26, 400],
  "shoulder-to-crown": [196, 20, 196, 89],
  trunk: [196, 89, 196, 199],
  leg: [196, 199, 196, 400],
  arm: [62, 89, 62, 256],
  forearm: [98, 160, 98, 215],
  hand: [98, 215, 98, 256],
  foot: [118, 416, 176, 416],
};

/** How to take each length: a standing body from the side with measure lines, the one being entered lit. */
export function HowToMeasure({ lit }: { lit: string }) {
  return (
    <figure>
      <svg
        viewBox="0 0 240 440"
        className="w-full max-w-80"
        role="img"
        aria-label="Where each length is taken on a standing body"
      >
        <g stroke="var(--ink)" fill="none" strokeLinecap="round" opacity="0.85">
          <circle cx="136" cy="46" r="25" fill="var(--ink)" stroke="none" />
          <path d="M136 60 V96" strokeWidth="14" />
          <path d="M136 100 V199" strokeWidth="30" />
          <path d="M136 199 V298" strokeWidth="24" />
          <path d="M136 298 V384" strokeWidth="18" />
          <path d="M128 392 H170" strokeWidth="15" />
          <path d="M134 92 V160 V215" strokeWidth="14" stroke="var(--paper)" />
          <path d="M134 92 V160 V215" strokeWidth="10" />
          <path d="M134 215 V252" strokeWidth="8" />
        </g>
        <line x1="8" x2="232" y1="401" y2="401" stroke="var(--ink)" strokeWidth="2" />
        {Object.entries(LINES).map(([length, [x1, y1, x2, y2]]) => {
          const on = lit === length;
          const upright = x1 === x2;
          return (
            <g key={length} stroke={on ? "var(--blue)" : "var(--darkwood)"} strokeWidth={on ? 4 : 2}>
              <line x1={x1} y1={y1} x2={x2} y2={y2} />
              {[
                [x1, y1],
                [x2, y2],
              ].map(([x = 0, y = 0]) =>
                upright ? (
                  <line key={y} x1={x - 6} x2={x + 6} y1={y} y2={y} />
                ) : (
                  <line key={x} x1={x} x2={x} y1={y - 6} y2={y + 6} />
                ),
              )}
              <text
                x={upright ? x1 + (x1 > 120 ? 12 : -10) : (x1 + x2) / 2}
                y={upright ? (y1 + y2) / 2 + 5 : y1 + 18}
                textAnchor={upright ? (x1 > 120 ? "start" : "end") : "middle"}
                stroke="none"
                className={`font-head text-[17px] font-bold ${on ? "fill-blue" : "fill-ink"}`}
              >
                {LETTERS[length]}
              </text>
            </g>
          );
        })}
      </svg>
      <figcaption className="text-sm text-soft">
        Against a wall, barefoot, arms straight down. Shoulder: the bony top. Hip: the bony point that turns
        when the leg swings.
      </figcaption>
    </figure>
  );
}
