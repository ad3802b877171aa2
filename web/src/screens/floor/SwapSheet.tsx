import type { LiveSession } from "../../live/session";
import { Button } from "../../parts/Button";
import { Sheet } from "../../parts/Sheet";

interface Props {
  session: LiveSession;
  keys: readonly string[];
  onClose: () => void;
  onSwap: (key: string) => void;
}

/** What can be done in place of the present block. */
export function SwapSheet({ session, keys, onClose, onSwap }: Props) {
  return (
    <Sheet open onClose={onClose} title="Swap" about="What is open and of the same kind.">
      <ul className="grid gap-2">
        {keys.map((key) => {
          const other = session.sheet.variants[key];
          return (
            <li key={key}>
              <Button live className="w-full" onClick={() => onSwap(key)}>
                {other?.title} {other?.dose?.amount}
              </Button>
            </li>
          );
        })}
      </ul>
    </Sheet>
  );
}
