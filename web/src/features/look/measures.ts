import type { Mark, Measured } from "../../api/client";

export type Kind = Mark["kind"] | "cross";

/** What a measure says beside its line. */
export function inWords(mark: Mark, measured: Measured | undefined): string {
  if (!measured) return "";
  if (mark.kind === "plumb") return `${lean(measured.off_deg)} from upright`;
  if (mark.kind === "level") return `${lean(measured.off_deg)} from level`;
  if (mark.kind === "ray") return `${measured.angle_deg.toFixed(0)}°`;
  return measured.ratio === null ? `${measured.mm.toFixed(0)} mm` : `${measured.ratio.toFixed(2)} ×`;
}

const lean = (degrees: number | null) => `${Math.abs(degrees ?? 0).toFixed(1)}°`;

/** The lines of a grid, as the path of a drawing. */
export function gridPath(columns: number, rows: number, diagonals: boolean, w: number, h: number): string {
  const upright = Array.from({ length: columns + 1 }, (_, i) => `M${(i * w) / columns} 0V${h}`);
  const level = Array.from({ length: rows + 1 }, (_, i) => `M0 ${(i * h) / rows}H${w}`);
  const slants: string[] = [];
  for (let row = 0; diagonals && row < rows; row++) {
    for (let column = 0; column < columns; column++) {
      const [x0, x1] = [(column * w) / columns, ((column + 1) * w) / columns];
      const [y0, y1] = [(row * h) / rows, ((row + 1) * h) / rows];
      slants.push(`M${x0} ${y0}L${x1} ${y1}M${x1} ${y0}L${x0} ${y1}`);
    }
  }
  return [...upright, ...level, ...slants].join("");
}
