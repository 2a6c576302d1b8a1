import { type RefObject, useCallback, useEffect, useLayoutEffect, useRef, useState } from "react";
import type { Face } from "../api/client";
import { useKeys } from "./keys";
import { openedOn, type Size, type View } from "./opening";

export type { Size };

const WHOLE: View = { near: 1, x: 0.5, y: 0.5 };
const NEAREST = 12;
const STEP = 1.5;
const clamp = (v: number, low: number, high: number) => Math.min(high, Math.max(low, v));

/** What is seen of a picture: the same for all that stand side by side. */
export type Zoom = { view: View; set: (next: View) => void; touched: boolean };

export function useView(): Zoom {
  const [view, setView] = useState<View>(WHOLE);
  const [touched, setTouched] = useState(false);
  const set = useCallback((next: View) => {
    setView(next);
    setTouched(true);
  }, []);
  return { view, set, touched };
}

type Given = {
  place: RefObject<HTMLDivElement | null>;
  /** Of the place, and of the whole picture in it. */
  room: Size;
  whole: Size;
  zoom: Zoom;
  /** Faces that it opens on, as long as nobody has moved it. */
  faces: Face[];
  onPinch: (on: boolean) => void;
};

/** A picture that is zoomed and moved with the wheel, two fingers, keys and buttons. */
export function useZoom({ place, room, whole, zoom, faces, onPinch }: Given) {
  const [ready, setReady] = useState(false);
  const opening = zoom.touched ? null : openedOn(faces, room, whole);
  const view = opening ?? zoom.view;
  const size = { w: whole.w * view.near, h: whole.h * view.near };
  const left =
    size.w <= room.w ? (room.w - size.w) / 2 : clamp(room.w / 2 - view.x * size.w, room.w - size.w, 0);
  const top = size.h <= room.h ? 0 : clamp(room.h / 2 - view.y * size.h, room.h - size.h, 0);
  const now = useRef({ view, left, top, room, whole, zoom });
  useLayoutEffect(() => {
    now.current = { view, left, top, room, whole, zoom };
  });

  /** Nearer by a factor about a point of the place, which moves along. */
  const zoomAt = useCallback((factor: number, px: number, py: number, dx = 0, dy = 0) => {
    const { view: was, left: x0, top: y0, room: r, whole: full, zoom: shared } = now.current;
    if (full.w === 0) return;
    const near = clamp(was.near * factor, 1, NEAREST);
    const fx = (px - dx - x0) / (full.w * was.near);
    const fy = (py - dy - y0) / (full.h * was.near);
    shared.set(
      near === 1
        ? WHOLE
        : {
            near,
            x: clamp(fx + (r.w / 2 - px) / (full.w * near), 0, 1),
            y: clamp(fy + (r.h / 2 - py) / (full.h * near), 0, 1),
          },
    );
  }, []);
  /** It stays where it is: somebody works on it. */
  const hold = () => {
    if (!zoom.touched) zoom.set(view);
  };
  const step = (factor: number) => zoomAt(factor, room.w / 2, room.h / 2);
  const showAll = () => zoom.set(WHOLE);

  // The gestures come when a hand does: who only looks need not wait for them.
  useEffect(() => {
    const element = place.current;
    if (!element) return;
    const comes = () => setReady(true);
    const events = ["pointerenter", "touchstart", "focusin"] as const;
    for (const name of events) element.addEventListener(name, comes, { once: true, passive: true });
    return () => {
      for (const name of events) element.removeEventListener(name, comes);
    };
  }, [place]);
  const pinch = useRef(onPinch);
  useLayoutEffect(() => {
    pinch.current = onPinch;
  });
  useEffect(() => {
    const element = place.current;
    if (!element || !ready) return;
    let off: (() => void) | null = null;
    let gone = false;
    void import("./gestures").then(({ gestures }) => {
      if (gone) return;
      off = gestures(element, {
        zoom: (factor, x, y, dx, dy) => {
          const box = element.getBoundingClientRect();
          zoomAt(factor, x - box.left, y - box.top, dx, dy);
        },
        pinching: (on) => pinch.current(on),
      });
    });
    return () => {
      gone = true;
      off?.();
    };
  }, [place, ready, zoomAt]);
  useKeys([
    { key: "z", does: "The picture from nearer", run: () => step(STEP) },
    { key: "o", does: "The picture from farther away", run: () => step(1 / STEP) },
    { key: "0", does: "The whole picture", run: showAll },
  ]);
  return { view, size, left, top, zoomAt, hold, step, showAll, nearest: view.near >= NEAREST };
}
