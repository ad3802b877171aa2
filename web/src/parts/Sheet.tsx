import { Dialog } from "radix-ui";
import { type ReactNode, useRef } from "react";

interface Props {
  open: boolean;
  onClose: () => void;
  title: string;
  about?: ReactNode;
  /** A side sheet stands beside the page; a slip lies in its middle. */
  side?: boolean;
  children: ReactNode;
}

/** A dialog over the page, or at its side. */
export function Sheet({ open, onClose, title, about, side = false, children }: Props) {
  const place = side
    ? "inset-y-0 right-0 w-[26rem] max-w-full border-l"
    : "left-1/2 top-1/2 w-[30rem] max-w-[calc(100vw-1.5rem)] max-h-[calc(100vh-1.5rem)] -translate-x-1/2 -translate-y-1/2 rounded-md border";
  const before = useRef<Element>(null);
  return (
    <Dialog.Root open={open} onOpenChange={(now) => !now && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-20 bg-ink/30" />
        <Dialog.Content
          onOpenAutoFocus={() => {
            before.current = document.activeElement;
          }}
          onCloseAutoFocus={(event) => {
            // a sheet has no trigger of its own: the focus goes back to where it came from
            event.preventDefault();
            if (before.current instanceof HTMLElement) before.current.focus();
          }}
          className={`fixed z-30 overflow-y-auto border-rule bg-paper p-6 ${place}`}
        >
          <div className="flex items-start justify-between gap-4">
            <Dialog.Title className="text-2xl">{title}</Dialog.Title>
            <Dialog.Close className="-mr-2 -mt-1 min-h-11 px-2 font-bold text-soft hover:text-ink">
              Close
            </Dialog.Close>
          </div>
          <Dialog.Description className={about ? "mt-1 text-soft" : "sr-only"}>
            {about ?? title}
          </Dialog.Description>
          <div className="mt-4">{children}</div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
