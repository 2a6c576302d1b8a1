import { usePiece, useSpots } from "./useEditor";

/** A part of a picture, 0–1. */
export type View = { x: number; y: number; width: number; height: number };

const AROUND = 0.35;
const TALL = 1.25;
/** A single spot still has so much of the picture's width around it. */
const LEAST = 0.3;

/** The part of a picture (ratio: its width by its height) that holds some spots and something around them. */
export function viewOf(spots: { x: number; y: number }[], ratio: number): View {
  if (spots.length === 0) return viewOf([{ x: 0.5, y: 0.5 }], ratio);
  const [left, right] = [Math.min(...spots.map((s) => s.x)), Math.max(...spots.map((s) => s.x))];
  const [top, bottom] = [Math.min(...spots.map((s) => s.y)), Math.max(...spots.map((s) => s.y))];
  const wide = Math.max(
    LEAST,
    (right - left) * (1 + 2 * AROUND),
    ((bottom - top) * (1 + 2 * AROUND)) / ratio / TALL,
  );
  const width = Math.min(1, wide, 1 / ratio / TALL);
  const height = width * ratio * TALL;
  const within = (middle: number, part: number) => Math.min(1 - part, Math.max(0, middle - part / 2));
  return { x: within((left + right) / 2, width), y: within((top + bottom) / 2, height), width, height };
}

/** The part of the picture that holds a figure's spots and something around them. */
export function useView(figure: string): View {
  const { picture } = usePiece();
  const spots = useSpots().filter((spot) => spot.figure === figure);
  return viewOf(spots, picture ? picture.width / picture.height : 1);
}
