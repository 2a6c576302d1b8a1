const WIDTHS: Record<string, number> = { light: 1.2, medium: 2.2, heavy: 4 };
const LINES = 15;

/** A patch of drawn strokes on white paper, at the pressure meant. */
export function Strokes({ hex, pressure }: { hex: string; pressure: string }) {
  const strokes = Array.from({ length: LINES }, (_, i) => {
    const sway = ((i * 7) % 5) - 2;
    return `M${4 + i * 5 - sway} ${34 + (sway % 3)} Q${7 + i * 5} ${20 + sway} ${11 + i * 5 + sway} ${6 - (sway % 3)}`;
  });
  return (
    <svg className="strokes" viewBox="0 0 92 40" aria-hidden="true">
      <rect width="92" height="40" fill="#f4f4f2" />
      <path
        d={strokes.join("")}
        stroke={hex}
        strokeWidth={WIDTHS[pressure] ?? 2.2}
        strokeLinecap="round"
        fill="none"
      />
    </svg>
  );
}
