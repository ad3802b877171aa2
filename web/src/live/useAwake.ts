import { useEffect } from "react";

/** Keep the screen awake while a test runs, where the browser allows it. */
export function useAwake(on: boolean) {
  useEffect(() => {
    if (!on || !("wakeLock" in navigator)) return;
    let lock: WakeLockSentinel | undefined;
    let over = false;
    const hold = () => {
      if (document.visibilityState !== "visible" || over) return;
      navigator.wakeLock.request("screen").then(
        (got) => {
          if (over) void got.release();
          else lock = got;
        },
        () => undefined,
      );
    };
    hold();
    document.addEventListener("visibilitychange", hold);
    return () => {
      over = true;
      document.removeEventListener("visibilitychange", hold);
      void lock?.release();
    };
  }, [on]);
}
