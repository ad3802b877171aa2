import { useState } from "react";
import type { Handed } from "../api/client";
import { Button } from "./Button";
import { Message } from "./Message";

/** An address to hand over: as a code to point a phone at, to copy, or by the phone's own way of sharing. It is shown once. */
export function HandedOver({ handed, title, words }: { handed: Handed; title: string; words: string }) {
  const [said, say] = useState("");
  const copy = () =>
    navigator.clipboard.writeText(handed.address).then(
      () => say("Copied."),
      () => say("This browser does not let a page copy: mark the address and copy it."),
    );
  const share = () => navigator.share({ title, url: handed.address }).catch(() => undefined);
  return (
    <div role="status" className="my-3 border-l-4 border-wood bg-sheet p-4">
      <p className="mb-3">{words}</p>
      <div className="flex flex-wrap items-start gap-5">
        <img
          src={`data:image/svg+xml;utf8,${encodeURIComponent(handed.qr)}`}
          alt={`The address as a code: ${handed.address}`}
          className="size-44 shrink-0 bg-white"
        />
        <div className="min-w-0 flex-1 basis-56">
          <label className="mb-3 block text-sm">
            {title}
            <input
              readOnly
              className="field font-mono"
              value={handed.address}
              onFocus={(event) => event.currentTarget.select()}
            />
          </label>
          <div className="flex flex-wrap gap-3">
            <Button onClick={() => void copy()}>Copy</Button>
            {"share" in navigator && <Button onClick={() => void share()}>Share</Button>}
          </div>
          {said && (
            <p role="status" className="mt-2 text-soft">
              {said}
            </p>
          )}
        </div>
      </div>
      {!handed.reachable && (
        <Message>
          This address works on this machine alone. So that phones in the hall reach it, start the server with{" "}
          <code>./perch start --lan</code>.
        </Message>
      )}
    </div>
  );
}
