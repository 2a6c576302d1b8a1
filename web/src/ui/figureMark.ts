const TURN = 2 * Math.PI;

/** Corners of a regular shape around the middle, the first at `start` turns. */
function polygon(corners: number, r: number, start: number): string {
  const points = Array.from({ length: corners }, (_, i) => {
    const angle = (start + i / corners) * TURN;
    return `${(r * Math.cos(angle)).toFixed(2)} ${(r * Math.sin(angle)).toFixed(2)}`;
  });
  return `M${points.join("L")}Z`;
}

const round = (r: number) => `M${r} 0A${r} ${r} 0 1 1 ${-r} 0A${r} ${r} 0 1 1 ${r} 0Z`;

const SHAPES: ((r: number) => string)[] = [
  round,
  (r) => polygon(4, r * 1.25, 1 / 8),
  (r) => polygon(3, r * 1.45, -1 / 4),
  (r) => polygon(4, r * 1.3, 0),
  (r) => polygon(6, r * 1.15, 0),
  (r) => polygon(5, r * 1.2, -1 / 4),
  (r) => polygon(3, r * 1.45, 1 / 4),
  (r) => polygon(8, r * 1.1, 1 / 16),
];

/** The outline that marks the spots of the n-th figure, whatever its colours. */
export const figureOutline = (index: number, r: number): string =>
  (SHAPES[index % SHAPES.length] ?? round)(r);
