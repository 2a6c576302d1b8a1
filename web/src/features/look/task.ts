import type { ReactNode } from "react";
import type { Size, Tool } from "../../ui/PictureCanvas";

/** One kind of work on the reference: what pointing does, what is drawn over it, and its panel. */
export type Task = {
  tool?: Tool;
  above?: (size: Size) => ReactNode;
  panel: ReactNode;
};

export const newId = () => crypto.randomUUID().slice(0, 13);

/** At most `most` of the points, evenly taken, the last included. */
export function thinned<T>(points: T[], most: number): T[] {
  if (points.length <= most) return points;
  return Array.from(
    { length: most },
    (_, i) => points[Math.round((i * (points.length - 1)) / (most - 1))] as T,
  );
}
