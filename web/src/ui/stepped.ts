import type { Spot } from "../api/client";
import type { Arrow } from "./arrows";

/** How much farther a spot counts that lies aside of the way. */
const ASIDE = 2;

/** The next spot on the way of an arrow key; none at the edge. ratio: the picture's width by its height. */
export function stepped<T extends Pick<Spot, "id" | "x" | "y">>(
  spots: T[],
  from: T,
  [right, down]: Arrow,
  ratio: number,
): T | null {
  let best: T | null = null;
  let least = Number.POSITIVE_INFINITY;
  for (const spot of spots) {
    const [dx, dy] = [(spot.x - from.x) * ratio, spot.y - from.y];
    const along = dx * right + dy * down;
    const far = along + ASIDE * Math.abs(dx * down - dy * right);
    if (along <= 0 || far >= least) continue;
    best = spot;
    least = far;
  }
  return best;
}
