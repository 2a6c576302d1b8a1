import { useEffect, useRef, useState } from "react";
import { server } from "../../api/client";
import type { Scene } from "./scene";

const DRAGGED = 256;
const SETTLED = 512;
const SETTLES_MS = 180;

/** The picture of a sitter: small while something is moved, large once it rests. One is asked for at a time, and what
 * came last always wins; where one cannot be made the last good one stays, with what was said. */
export function useLit(scene: Scene, number: number, way: string, settled = SETTLED) {
  const [url, setUrl] = useState("");
  const [trouble, setTrouble] = useState("");
  const now = JSON.stringify({ scene, number, way });
  const wanted = useRef(now);
  const made = useRef({ key: "", size: 0, url: "" });
  const busy = useRef(false);
  wanted.current = now;
  useEffect(() => {
    let left = false;
    const ask = async (size: number) => {
      if (busy.current || (made.current.key === wanted.current && made.current.size >= size)) return;
      busy.current = true;
      const key = wanted.current;
      try {
        const picture = await server.lit({ ...JSON.parse(key), size });
        URL.revokeObjectURL(made.current.url);
        made.current = { key, size, url: URL.createObjectURL(picture as unknown as Blob) };
        setUrl(made.current.url);
        setTrouble("");
      } catch (error) {
        made.current = { ...made.current, key, size };
        setTrouble((error as Error).message);
      }
      busy.current = false;
      // Meanwhile it may have moved on.
      if (!left && wanted.current !== key) void ask(DRAGGED);
    };
    void ask(DRAGGED);
    const settling = setTimeout(function settle() {
      if (left) return;
      if (busy.current) setTimeout(settle, SETTLES_MS / 3);
      else if (wanted.current === now) void ask(settled);
    }, SETTLES_MS);
    return () => {
      left = true;
      clearTimeout(settling);
    };
  }, [now, settled]);
  return { url, trouble };
}
