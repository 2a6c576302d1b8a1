import { Gesture } from "@use-gesture/vanilla";

type Moves = {
  /** Nearer by a factor, about a point of the window; moved along by so many pixels. */
  zoom: (factor: number, x: number, y: number, dx: number, dy: number) => void;
  /** Whether two fingers are on the picture, so that neither of them draws. */
  pinching: (on: boolean) => void;
};

const PER_PIXEL = 0.0016;

/** Pinching with two fingers, and the wheel. Returns what takes them off again. */
export function gestures(element: HTMLElement, { zoom, pinching }: Moves): () => void {
  const held = new Gesture(
    element,
    {
      onPinch: ({ first, last, movement: [scale], origin: [x, y], memo, event }) => {
        event.preventDefault();
        if (first) pinching(true);
        const [before, bx, by] = (memo as [number, number, number] | undefined) ?? [1, x, y];
        zoom(scale / before, x, y, x - bx, y - by);
        if (last) pinching(false);
        return [scale, x, y];
      },
      onWheel: ({ event, delta: [, dy] }) => {
        if (event.ctrlKey) return;
        event.preventDefault();
        zoom(Math.exp(-dy * PER_PIXEL), event.clientX, event.clientY, 0, 0);
      },
    },
    { eventOptions: { passive: false }, pinch: { pointer: { touch: true } } },
  );
  return () => held.destroy();
}
