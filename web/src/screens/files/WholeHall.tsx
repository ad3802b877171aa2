import { type ArchivePlan, ask, client } from "../../api/client";
import { Button, buttonLook } from "../../parts/Button";
import { Message, Problem } from "../../parts/Message";
import { useLookedAt } from "./useLookedAt";

const PATH = "/api/archive";

/** The whole hall as one file, out and in: looked at first, then all of it or nothing. */
export function WholeHall() {
  const { plan, error, busy, choose, keep } = useLookedAt((file, kept) =>
    // a file may be larger than what is taken as a form, and is read as it comes
    ask(
      client.POST(PATH, {
        params: { query: { keep: kept } },
        body: file as never,
        bodySerializer: () => file,
        headers: { "Content-Type": "application/json" },
      }),
    ),
  );
  return (
    <section aria-label="The whole hall" className="mb-8 border-l-4 border-wood bg-sheet px-5 py-4">
      <h2 className="text-xl">The whole hall</h2>
      <p className="mb-3 mt-1 max-w-3xl text-soft">
        Everybody with their intake, cautions, pain, tests, sessions and plans, your syllabus, kit and
        settings. It moves a hall to another machine and nothing is lost on the way. It holds what people told
        you in confidence: keep it where nobody else reads.
      </p>
      <div className="flex flex-wrap items-end gap-x-6 gap-y-3">
        <a href={PATH} download className={buttonLook("plain")}>
          Save the archive
        </a>
        <label className="block">
          <span className="mb-1 block font-bold">Take an archive in</span>
          <input
            type="file"
            accept=".json,application/json"
            onChange={choose}
            className="block w-full max-w-lg rounded-md border border-soft bg-sheet p-2 file:mr-3 file:rounded file:border file:border-ink file:bg-paper file:px-3 file:py-2 file:font-bold"
          />
        </label>
      </div>
      {busy && <p role="status">Reading the archive …</p>}
      {error !== undefined && <Problem error={error} />}
      {plan && <Looked plan={plan} busy={busy} onKeep={keep} />}
    </section>
  );
}

interface LookedProps {
  plan: ArchivePlan;
  busy: boolean;
  onKeep: () => void;
}

function Looked({ plan, busy, onKeep }: LookedProps) {
  const what = Object.entries(plan.counted)
    .filter(([, n]) => n > 0)
    .map(([word, n]) => `${n.toLocaleString("en")} ${word}`)
    .join(", ");
  return (
    <Message>
      <p>
        <strong>{plan.kept ? "Kept" : "The archive would add"}:</strong>{" "}
        {plan.new.length > 0 ? plan.new.join(", ") : "nobody new"}
        {what ? `; ${what}.` : "."}
      </p>
      {plan.here.length > 0 && <p>Here already, and left as they are: {plan.here.join(", ")}.</p>}
      {plan.said.map((sentence) => (
        <p key={sentence}>{sentence}</p>
      ))}
      {!plan.kept && (plan.new.length > 0 || what) && (
        <Button kind="act" disabled={busy} onClick={onKeep} className="mt-3">
          Keep all of it
        </Button>
      )}
    </Message>
  );
}
