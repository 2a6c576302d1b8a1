import { useCallback, useEffect, useRef, useState } from "react";
import { FIRST, type Scene } from "./scene";

const MOST = 100;
const TOGETHER_MS = 700;

function kept(name: string): Scene | null {
  try {
    const held = JSON.parse(localStorage.getItem(name) ?? "null") as Scene | null;
    return held?.sitters?.length ? { ...FIRST, ...held } : null;
  } catch {
    return null;
  }
}

/** What is kept of a piece's other states, which nobody comes back to, goes. */
function forget(stem: string, but: string) {
  for (const key of Object.keys(localStorage)) {
    if (key.startsWith(stem) && key !== but) localStorage.removeItem(key);
  }
}

type OfPiece = { id: string; version: number; scene: Scene | null } | null;

/** The scene with undo and redo. What is changed in one go, such as a drag, is one step. It outlives the page, for this
 * artist and this state of the piece alone. */
export function useScene(artist: string, piece: OfPiece) {
  const stem = `caltin.scene.${artist}.${piece?.id ?? ""}`;
  const name = piece ? `${stem}.${piece.version}` : stem;
  const [scene, show] = useState<Scene>(() => kept(name) ?? piece?.scene ?? FIRST);
  const past = useRef<Scene[]>([]);
  const coming = useRef<Scene[]>([]);
  const last = useRef({ at: 0, what: "" });
  const [, said] = useState(0);
  useEffect(() => {
    try {
      if (stem !== name) forget(stem, name);
      localStorage.setItem(name, JSON.stringify(scene));
    } catch {
      // Without room the scene is kept as long as the page is open.
    }
  }, [stem, name, scene]);
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
