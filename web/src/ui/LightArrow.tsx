/** Where the light comes from: a long arrow into the middle of its field. */
export function LightArrow({ fromDeg, size = 40 }: { fromDeg: number; size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="-20 -20 40 40"
      role="img"
      aria-label={`Light comes from ${lightWords(fromDeg)}`}
      className="light-arrow"
    >
      <g transform={`rotate(${-fromDeg})`}>
        <path d="M19 0H-12" className="light-shaft" />
        <path d="M-5 -7L-14 0L-5 7" className="light-head" />
      </g>
    </svg>
  );
}

const WORDS = [
  "the right",
  "the upper right",
  "above",
  "the upper left",
  "the left",
  "the lower left",
  "below",
  "the lower right",
];

/** Degrees as words: 0 is the right, 90 above. */
export const lightWords = (fromDeg: number): string => WORDS[Math.round(fromDeg / 45) % 8] ?? "above";
