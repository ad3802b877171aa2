import { Link } from "react-router";
import type { LinePage, LineSaid } from "../../api/client";

const TONE: Record<LineSaid["loud"][number]["says"], string> = {
  yes: "text-ink",
  "cannot tell": "text-soft",
  no: "text-soft",
};

/** What is said of a line: what the camera did wrong first, then at most three loud figures, and what helps. */
export function Said({ said, page }: { said: LineSaid; page: LinePage }) {
  const range = said.help?.range ? page.ranges[said.help.range] : undefined;
  return (
    <section aria-label="What it shows" data-testid="said" data-faults={said.faults.join(" ")}>
      {said.camera.length > 0 && (
        <ul className="mb-3 border-l-4 border-ink bg-sheet px-4 py-2">
          {said.camera.map((words) => (
            <li key={words}>{words}</li>
          ))}
        </ul>
      )}
      <div role="status">
        <h2 className="text-[1.75rem] leading-tight">{said.heading}</h2>
      </div>
      <p className="text-sm text-soft">Meant here: {said.target}.</p>
      {said.loud.map((figure) => (
        <div key={figure.fault} className="mt-3">
          <p className="text-[0.9375rem] text-soft">{figure.label}</p>
          <p className="flex items-baseline gap-3">
            <span className={`font-head text-[2.625rem] font-bold leading-none ${TONE[figure.says]}`}>
              {figure.value}
            </span>
            <span className="text-soft">{figure.doubt}</span>
          </p>
          <p className="text-[0.9375rem]">{figure.means}</p>
        </div>
      ))}
      {said.help && (
        <div className="mt-4 border-l-4 border-blue pl-4">
          <p className="text-sm text-soft">Say</p>
          <p className="font-head text-xl font-bold leading-tight">{said.help.cue}</p>
          {said.help.drills.length > 0 && (
            <p className="mt-1 text-[0.9375rem]">
              Then{" "}
              {said.help.drills.map(([drill, title], n) => (
                <span key={drill}>
                  {n > 0 && (n === said.help?.drills.length ? "" : " and ")}
                  <Link to={`/trainees/${page.trainee.id}?drill=${drill}`} className="underline">
                    {title}
                  </Link>
                </span>
              ))}
              .
            </p>
          )}
          {range && <p className="mt-1 text-[0.9375rem]">{range.words}</p>}
        </div>
      )}
      {said.all.length > said.loud.length && (
        <details className="mt-3">
          <summary className="min-h-6 cursor-pointer text-soft">All figures</summary>
          <table className="mt-1 text-[0.9375rem]">
            <tbody>
              {said.all.map((figure) => (
                <tr key={figure.fault}>
                  <th scope="row" className="pr-4 text-left font-normal">
                    {figure.label}
                  </th>
                  <td className="pr-2 text-right font-bold">{figure.value}</td>
                  <td className="pr-4 text-soft">{figure.doubt}</td>
                  <td className="text-soft">{figure.means}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </details>
      )}
    </section>
  );
}
