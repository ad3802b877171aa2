import { useState } from "react";
import { asFile, forget, type Letter, refusedLetters, sendAgain, waitingLetters } from "../live/outbox";
import { Button } from "./Button";
import { Sheet } from "./Sheet";
import { saveAs } from "./saveAs";

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
        <Refused key={letter.key} letter={letter} />
      ))}
    </Sheet>
  );
}

/** A refused result is sent again, or saved as a file; only then can it be put away. */
function Refused({ letter }: { letter: Letter }) {
  const [saved, setSaved] = useState(false);
  return (
    <section aria-label={`Not accepted: ${letter.words}`} className="mb-4 border-l-4 border-ink bg-sheet p-3">
      <p className="font-bold">{letter.words}</p>
      <p className="mb-2">{letter.refused}</p>
      <div className="flex flex-wrap gap-3">
        <Button onClick={() => sendAgain(letter.key)}>Send again</Button>
        <Button
          onClick={() => {
            saveAs(`not-accepted-${letter.key}.json`, asFile([letter]));
            setSaved(true);
          }}
        >
          Save as a file
        </Button>
        {saved && (
          <Button kind="quiet" className="underline" onClick={() => forget(letter.key)}>
            I have the file: put it away
          </Button>
        )}
      </div>
    </section>
  );
}
