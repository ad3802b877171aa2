import { forget, refusedLetters, waitingLetters } from "../live/outbox";
import { Button } from "./Button";
import { Sheet } from "./Sheet";

/** What waits to be sent, and what the server did not accept, with the reason. Nothing leaves unread. */
export function Letters({ open, onClose }: { open: boolean; onClose: () => void }) {
  const waiting = waitingLetters();
  return (
    <Sheet
      open={open}
      onClose={onClose}
      title="Not yet on the server"
      about="Everything here is kept in this browser until it is sent."
    >
      <ul className="mb-4 list-disc pl-5">
        {waiting.map((letter) => (
          <li key={letter.key}>{letter.words}</li>
        ))}
      </ul>
      {refusedLetters().map((letter) => (
        <div key={letter.key} className="mb-4 border-l-4 border-ink bg-sheet p-3">
          <p className="font-bold">{letter.words}</p>
          <p className="mb-2">{letter.refused}</p>
          <Button onClick={() => forget(letter.key)}>Read, put away</Button>
        </div>
      ))}
    </Sheet>
  );
}
