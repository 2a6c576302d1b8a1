import { useSyncExternalStore } from "react";

/** Whether the window is at least so many pixels wide. */
export function useWide(least: number): boolean {
  const query = `(min-width: ${least}px)`;
  return useSyncExternalStore(
    (changed) => {
      const list = window.matchMedia(query);
      list.addEventListener("change", changed);
      return () => list.removeEventListener("change", changed);
    },
    () => window.matchMedia(query).matches,
  );
}
