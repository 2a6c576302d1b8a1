import { useCallback, useRef, useState } from "react";

/** The height in pixels that an element has been given, kept up to date. */
export function useHeight(): [(element: HTMLElement | null) => void, number] {
  const [height, setHeight] = useState(400);
  const watch = useRef<ResizeObserver | null>(null);
  const attach = useCallback((element: HTMLElement | null) => {
    watch.current?.disconnect();
    if (!element) return;
    watch.current = new ResizeObserver(() => setHeight(Math.max(240, element.clientHeight)));
    watch.current.observe(element);
  }, []);
  return [attach, height];
}
