import { useEffect } from "react";

/** Keeps the screen awake while this is shown, where the device allows it. */
export function useAwake(): void {
  useEffect(() => {
    let held: WakeLockSentinel | null = null;
    let gone = false;
    const ask = async () => {
      if (document.visibilityState !== "visible" || !("wakeLock" in navigator)) return;
      try {
        const lock = await navigator.wakeLock.request("screen");
        if (gone) await lock.release();
        else held = lock;
      } catch {
        // A low battery refuses; the screen then dims as usual.
      }
    };
    void ask();
    document.addEventListener("visibilitychange", ask);
    return () => {
      gone = true;
      document.removeEventListener("visibilitychange", ask);
      void held?.release();
    };
  }, []);
}
