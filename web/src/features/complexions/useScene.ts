import { useCallback, useEffect, useRef, useState } from "react";
import { FIRST, type Scene } from "./scene";

const KEPT = "caltin.scene";
const MOST = 100;
const TOGETHER_MS = 700;

function kept(): Scene {
  try {
    const held = JSON.parse(localStorage.getItem(KEPT) ?? "null") as Scene | null;
    return held?.sitters?.length ? { ...FIRST, ...held } : FIRST;
  } catch {
    return FIRST;
  }
}

/** The scene with undo and redo; it outlives the page. What is changed in one go, such as a drag, is one step. */
export function useScene(given: Scene | null) {
  const [scene, show] = useState<Scene>(() => given ?? kept());
  const past = useRef<Scene[]>([]);
  const coming = useRef<Scene[]>([]);
  const last = useRef({ at: 0, what: "" });
  const [, said] = useState(0);
  useEffect(() => {
    try {
      localStorage.setItem(KEPT, JSON.stringify(scene));
    } catch {
      // Without room the scene is kept as long as the page is open.
    }
  }, [scene]);
  const change = useCallback((what: string, make: (scene: Scene) => Scene) => {
    show((before) => {
      const after = make(before);
      const now = Date.now();
      if (what !== last.current.what || now - last.current.at > TOGETHER_MS) {
        past.current = [...past.current.slice(-MOST), before];
      }
      last.current = { at: now, what };
      coming.current = [];
      return after;
    });
    said((count) => count + 1);
  }, []);
  const step = useCallback((from: typeof past, to: typeof past) => {
    show((now) => {
      const found = from.current.at(-1);
      if (!found) return now;
      from.current = from.current.slice(0, -1);
      to.current = [...to.current, now];
      last.current = { at: 0, what: "" };
      return found;
    });
    said((count) => count + 1);
  }, []);
  return {
    scene,
    change,
    undo: () => step(past, coming),
    redo: () => step(coming, past),
    canUndo: past.current.length > 0,
    canRedo: coming.current.length > 0,
  };
}
