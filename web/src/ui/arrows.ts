/** To the right and down. */
export type Arrow = readonly [number, number];

/** Where an arrow key goes; nothing for other keys. */
export const ARROWS: Readonly<Record<string, Arrow | undefined>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};
