import { useEffect } from "react";
import { count } from "./sounds";

/** Have each second of a clock that runs counted aloud, once. */
export function useCounting(going: boolean, passed: number) {
  const second = going ? Math.floor(passed) : 0;
  useEffect(() => count(second), [second]);
}
