import { figureOutline } from "./figureMark";

/** The shape of a figure's spots, as a small sign beside its name. */
export function FigureMark({ index, size = 16 }: { index: number; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="-8 -8 16 16" aria-hidden="true" className="figure-mark">
      <path d={figureOutline(index, 5)} fill="none" stroke="currentColor" strokeWidth={2} />
    </svg>
  );
}
