import { useCallback, useEffect, useRef, useState } from "react";
import type { Asked, Kind, Said } from "./finderWorker";
import type { Box, Points } from "./points";

/** Where the model stands: not asked for, on its way, there, or not to be had. */
export type FinderState =
  | { at: "idle" }
  | { at: "loading"; share: number }
  | { at: "ready" }
  | { at: "absent" };

export interface Finder {
  state: FinderState;
  /** The joints in a picture, which is given away by this; null where nobody is found or the model is not there. */
  find: (picture: ImageBitmap, box?: Box | null) => Promise<Points | null>;
}

interface Use {
  /** Whether it is loaded at all. */
  wanted: boolean;
  /** Whether one picture follows another, as in a film. */
  follows: boolean;
}

/** Something that is waited for, and settled from elsewhere. */
function gate() {
  let open: (there: boolean) => void = () => undefined;
  const opened = new Promise<boolean>((resolve) => {
    open = resolve;
  });
  return { opened, open };
}

/** The model in its worker, loaded only where this is used. Each look waits for the one before. */
export function useFinder(model: Kind, { wanted, follows }: Use): Finder {
  const [state, setState] = useState<FinderState>({ at: "idle" });
  const worker = useRef<Worker>(undefined);
  const waits = useRef(new Map<number, (points: Points | null) => void>());
  // a picture may be there before the worker is begun: it waits for it
  const ready = useRef(gate());
  const next = useRef(0);
  useEffect(() => {
    if (!wanted) return;
    const loaded = ready.current.open;
    setState({ at: "loading", share: 0 });
    const absent = () => {
      setState({ at: "absent" });
      loaded(false);
      for (const give of waits.current.values()) give(null);
      waits.current.clear();
    };
    let made: Worker;
    try {
      made = new Worker(new URL("./finderWorker.ts", import.meta.url), { type: "module" });
    } catch {
      return absent();
    }
    worker.current = made;
    made.onerror = absent;
    made.onmessage = (event: MessageEvent<Said>) => {
      const said = event.data;
      if (said.kind === "loading") setState({ at: "loading", share: said.share });
      else if (said.kind === "loaded") {
        setState({ at: "ready" });
        loaded(true);
      } else if (said.kind === "absent") absent();
      else {
        waits.current.get(said.id)?.(said.points);
        waits.current.delete(said.id);
      }
    };
    made.postMessage({ kind: "load", model, follows } satisfies Asked);
    const waiting = waits.current;
    return () => {
      made.terminate();
      worker.current = undefined;
      loaded(false);
      ready.current = gate();
      for (const give of waiting.values()) give(null);
      waiting.clear();
    };
  }, [model, wanted, follows]);
  const find = useCallback(async (picture: ImageBitmap, box: Box | null = null) => {
    if (!(await ready.current.opened) || !worker.current) {
      picture.close();
      return null;
    }
    const id = next.current++;
    const found = new Promise<Points | null>((give) => waits.current.set(id, give));
    worker.current.postMessage({ kind: "find", id, picture, box } satisfies Asked, [picture]);
    return found;
  }, []);
  return { state, find };
}
