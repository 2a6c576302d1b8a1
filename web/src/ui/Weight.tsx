const MARKS = [4, 11, 18, 25];
const CROSSED_FROM = 0.7;

/** Lines as they stand on the map for a part of the largest dose. */
export function Weight({ part }: { part: number }) {
  const crossed = part >= CROSSED_FROM ? "M2 7 H30" : "";
  return (
    <svg className="line-weight" viewBox="0 0 32 14" aria-hidden="true">
      <path
        d={`${MARKS.map((x) => `M${x} 13 L${x + 5} 1`).join("")}${crossed}`}
        stroke="currentColor"
        strokeWidth={1 + 2.4 * part}
        fill="none"
      />
    </svg>
  );
}
