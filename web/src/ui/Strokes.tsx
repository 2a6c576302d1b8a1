/** full: no paper is seen between the strokes. */
const WIDTHS: Record<string, number> = { light: 1.2, medium: 2.2, heavy: 4, full: 4.2 };
const LINES = 15;

type Props = { hex: string; pressure: string; medium?: string };

const sway = (i: number) => ((i * 7) % 5) - 2;
const rows = (count: number, draw: (i: number) => string) =>
  Array.from({ length: count }, (_, i) => draw(i)).join("");

/** A zigzag of strokes, as a pencil lays them. */
const PENCIL = rows(
  LINES,
  (i) =>
    `M${4 + i * 5 - sway(i)} ${34 + (sway(i) % 3)} Q${7 + i * 5} ${20 + sway(i)} ${11 + i * 5 + sway(i)} ${6 - (sway(i) % 3)}`,
);
/** The same, so close that no paper is seen between. */
const CLOSE = rows(
  2 * LINES,
  (i) =>
    `M${4 + i * 2.6} ${35 + sway(i) / 2}Q${5.5 + i * 2.6} ${20 + sway(i)} ${8 + i * 2.6} ${5 - sway(i + 2) / 2}`,
);
/** Broad bands with a darker rim where they overlap. */
const MARKER = rows(3, (i) => `M7 ${11 + i * 9 + (i % 2)} H${85 - sway(i)}`);
/** Crumbs along a broad drag. */
const PASTEL = rows(9, (i) => `M${8 + (i % 3)} ${7 + i * 3.3} h${72 - ((i * 11) % 9)}`);
/** Ridges, pressed close. */
const OIL = rows(6, (i) => `M7 ${8 + i * 5} q20 ${sway(i)} 39 0 t39 ${sway(i + 1) / 2}`);

/** A patch drawn on white paper with a stick of its medium, at the pressure meant: never a flat field. */
export function Strokes({ hex, pressure, medium = "pencil" }: Props) {
  // What is laid closed is there to be judged: it has its colour and no other.
  const closed = pressure === "full";
  const width = WIDTHS[pressure] ?? 2.2;
  return (
    <svg className="strokes" viewBox="0 0 92 40" preserveAspectRatio="xMidYMid slice" aria-hidden="true">
      <rect width="92" height="40" fill="#f1f1f1" />
      {medium === "marker" && (
        <path d={MARKER} stroke={hex} strokeWidth={11} strokeOpacity={closed ? 1 : 0.8} fill="none" />
      )}
      {medium === "pastel" && (
        <path
          d={PASTEL}
          stroke={hex}
          strokeWidth={1.6 + width / 2}
          strokeDasharray={closed ? undefined : "5 1.5 2 2 8 1"}
          fill="none"
        />
      )}
      {medium === "oil_pastel" && (
        <>
          <path d={OIL} stroke={hex} strokeWidth={3.5 + width / 2} strokeLinecap="round" fill="none" />
          {!closed && (
            <path
              d={OIL}
              stroke="#fff"
              strokeOpacity={0.25}
              strokeWidth={0.8}
              transform="translate(0 -1.5)"
              fill="none"
            />
          )}
        </>
      )}
      {!["marker", "pastel", "oil_pastel"].includes(medium) && (
        <path
          d={closed ? CLOSE : PENCIL}
          stroke={hex}
          strokeWidth={width}
          strokeLinecap="round"
          fill="none"
        />
      )}
    </svg>
  );
}
