import { Dialog } from "radix-ui";
import { type KeyboardEvent, useEffect, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { useTrainees } from "../api/hooks";
import { begins, fits } from "./names";

const MOST = 12;

/** Find a trainee by typing, from anywhere: Alt and N together. The screen stays, its trainee changes. */
export function Finder() {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const press = (event: globalThis.KeyboardEvent) => {
      if (event.altKey && event.code === "KeyN" && !event.ctrlKey && !event.metaKey) {
        event.preventDefault();
        setOpen(true);
      }
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen}>
      <Dialog.Trigger className="min-h-11 px-2 text-soft hover:text-ink" title="Alt and N">
        Find
      </Dialog.Trigger>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-20 bg-ink/30" />
        <Dialog.Content className="fixed left-1/2 top-16 z-30 w-[26rem] max-w-[calc(100vw-1.5rem)] -translate-x-1/2 rounded-md border border-ink bg-paper p-4">
          <Dialog.Title className="sr-only">Find a trainee</Dialog.Title>
          <Dialog.Description className="sr-only">
            Type some letters of a name; the arrows choose, Enter opens.
          </Dialog.Description>
          <Search onGone={() => setOpen(false)} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** Who fits what was typed, those with a name that begins so before the others. */
const matches = (everybody: readonly { id: string; name: string }[], typed: string) =>
  everybody
    .filter((one) => fits(one.name, typed))
    .sort((a, b) => Number(begins(b.name, typed)) - Number(begins(a.name, typed)))
    .slice(0, MOST);

function Search({ onGone }: { onGone: () => void }) {
  const trainees = useTrainees();
  const go = useNavigate();
  const { pathname } = useLocation();
  const [typed, type] = useState("");
  const [at, setAt] = useState(0);
  const found = matches(trainees.data ?? [], typed);
  const pick = (id: string | undefined) => {
    if (!id) return;
    // on a trainee's screen the next one's opens; on the floor they come on
    const screen = /^\/trainees\/[^/]+\/(plan|line|levers|progress|bench|measures|report)$/.exec(
      pathname,
    )?.[1];
    go(pathname === "/floor" ? `/floor?trainee=${id}` : `/trainees/${id}${screen ? `/${screen}` : ""}`);
    onGone();
  };
  const press = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (step) {
      event.preventDefault();
      setAt((at + step + found.length) % Math.max(1, found.length));
    } else if (event.key === "Enter") pick(found[at]?.id);
  };
  return (
    <>
      <input
        // biome-ignore lint/a11y/noAutofocus: whoever opens the finder types next
        autoFocus
        role="combobox"
        aria-expanded="true"
        aria-controls="found-trainees"
        aria-activedescendant={found[at] ? `found-${found[at].id}` : undefined}
        aria-label="Name of a trainee"
        placeholder="Name"
        className="field"
        value={typed}
        onChange={(event) => {
          type(event.target.value);
          setAt(0);
        }}
        onKeyDown={press}
      />
      <div
        id="found-trainees"
        role="listbox"
        aria-label="Trainees"
        className="mt-2 max-h-[60vh] overflow-y-auto"
      >
        {found.map((one, n) => (
          <div
            key={one.id}
            id={`found-${one.id}`}
            role="option"
            aria-selected={n === at}
            tabIndex={-1}
            className={`flex min-h-11 cursor-pointer items-center px-3 ${n === at ? "bg-tint font-bold" : ""}`}
            onClick={() => pick(one.id)}
            onKeyDown={press}
          >
            {one.name}
          </div>
        ))}
      </div>
      {trainees.data && found.length === 0 && <p className="px-3 py-2 text-soft">Nobody of that name.</p>}
    </>
  );
}
