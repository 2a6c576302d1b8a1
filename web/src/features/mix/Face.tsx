import { useState } from "react";
import { sketchUrl } from "../../api/pictures";
import { usePiece, useSpots } from "../../document/useEditor";
import { useByValue } from "./useByValue";

const MOST = 24;

type Props = {
  figure: string;
  gives: Record<string, string>;
  /** What the picture shows, for who does not see it. */
  alt: string;
};

/** What a plan would make of a face: its picture, if there is one, and its places as a row from light to dark, wanted
 * above, what the plan gives below, touching. */
export function Face({ figure, gives, alt }: Props) {
  const piece = usePiece();
  const [without, setWithout] = useState(false);
  const rows = useByValue(useSpots()).filter((spot) => spot.id in gives && spot.reading);
  const each = Math.max(1, Math.ceil(rows.length / MOST));
  const shown = rows.filter((_, i) => i % each === 0);
  return (
    <span className="face">
      {piece.picture && !without && (
        <span className="face-picture">
          <img src={sketchUrl(piece, figure, gives)} alt={alt} onError={() => setWithout(true)} />
        </span>
      )}
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
    </span>
  );
}
