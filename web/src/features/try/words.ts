/** How many boxes speak, as a heading. */
export const counted = (boxes: number): string =>
  boxes === 0 ? "No box speaks yet" : boxes === 1 ? "One box speaks clearly" : `${boxes} boxes speak clearly`;

/** A distance as an eye tells it. */
export const seenAs = (off: number): string =>
  off < 1 ? "hardly to be seen" : off < 2.5 ? "just visible" : off < 5 ? "clearly off" : "far off";
