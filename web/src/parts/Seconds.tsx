import { useEffect, useRef } from "react";
import { tenths } from "../live/run";

/** A tenth of a second is the least that any clock here shows. */
const TENTH_MS = 100;
const passed = (since: number) => tenths(Date.now() - since).toFixed(1);

/** A clock that runs, in tenths of a second: its own figure is written anew, and no screen is drawn for it. */
export function Seconds({ since }: { since: number }) {
  const figure = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    const timer = setInterval(() => {
      if (figure.current?.firstChild) figure.current.firstChild.nodeValue = passed(since);
    }, TENTH_MS);
    return () => clearInterval(timer);
  }, [since]);
  return <span ref={figure}>{passed(since)}</span>;
}
