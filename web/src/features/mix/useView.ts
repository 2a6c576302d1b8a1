import { usePiece, useSpots } from "../../document/useEditor";
import type { View } from "../../ui/Crop";

const AROUND = 0.35;
const TALL = 1.25;

/** The part of the picture that holds a figure's spots and something around them. */
export function useView(figure: string): View {
  const { picture } = usePiece();
  const spots = useSpots().filter((spot) => spot.figure === figure);
  const ratio = picture ? picture.width / picture.height : 1;
  const [left, right] = [Math.min(...spots.map((s) => s.x)), Math.max(...spots.map((s) => s.x))];
  const [top, bottom] = [Math.min(...spots.map((s) => s.y)), Math.max(...spots.map((s) => s.y))];
  const wide = Math.max(
    (right - left) * (1 + 2 * AROUND),
    ((bottom - top) * (1 + 2 * AROUND)) / ratio / TALL,
  );
  const width = Math.min(1, wide, 1 / ratio / TALL);
  const height = width * ratio * TALL;
  const within = (middle: number, part: number) => Math.min(1 - part, Math.max(0, middle - part / 2));
  return { x: within((left + right) / 2, width), y: within((top + bottom) / 2, height), width, height };
}
