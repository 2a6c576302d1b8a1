import { useSpots } from "../../document/useEditor";
import { useByValue } from "./useByValue";

const MOST = 24;

/** A face as a row of its places from light to dark: wanted above, what a plan gives below, touching. */
export function Face({ gives }: { gives: Record<string, string> }) {
  const rows = useByValue(useSpots()).filter((spot) => spot.id in gives && spot.reading);
  const each = Math.max(1, Math.ceil(rows.length / MOST));
  const shown = rows.filter((_, i) => i % each === 0);
  return (
    <svg
      className="face-row"
      viewBox={`0 0 ${shown.length * 10} 24`}
      preserveAspectRatio="none"
      aria-hidden="true"
    >
      {shown.map((spot, i) => (
        <g key={spot.id}>
          <rect x={i * 10} y={0} width={10.2} height={12} fill={spot.reading?.swatch.hex} />
          <rect x={i * 10} y={12} width={10.2} height={12} fill={gives[spot.id]} />
        </g>
      ))}
    </svg>
  );
}
