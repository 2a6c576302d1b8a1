import { useEffect } from "react";
import { useLocation } from "react-router";

const MOST_FRAMES = 120;
let before = "";

/** Where reading goes on: the page itself, once it is there; unless something in it has taken the focus already. */
export function focusMain(frames = MOST_FRAMES): void {
  const main = document.querySelector<HTMLElement>("main:not(.wait)");
  if (!main) {
    if (frames > 0) requestAnimationFrame(() => focusMain(frames - 1));
    return;
  }
  if (main.contains(document.activeElement) || document.activeElement?.closest("[role=dialog]")) return;
  main.tabIndex = -1;
  main.focus({ preventScroll: true });
}

/** The title of the window follows the place, and so does the focus, but for the first place of all. */
export function usePlace(title: string): void {
  const { pathname } = useLocation();
  useEffect(() => {
    document.title = title ? `${title} – Caltin` : "Caltin";
  }, [title]);
  useEffect(() => {
    if (before && before !== pathname) focusMain();
    before = pathname;
  }, [pathname]);
}
