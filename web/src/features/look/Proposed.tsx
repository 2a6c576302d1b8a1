import type { SuggestedSpot } from "../../api/client";
import type { Size } from "../../ui/PictureCanvas";

type Props = { spot: SuggestedSpot; size: Size; gone: boolean; onToggle: () => void };

/** A proposed place on the picture: taken or left out by a tap; open, with a question, as long as it is doubtful. */
export function Proposed({ spot, size, gone, onToggle }: Props) {
  const r = Math.max(5, spot.radius * Math.max(size.w, size.h));
  const asked = spot.doubt !== "" && gone;
  const outline = spot.outline
    ? `M${spot.outline.map(([x = 0, y = 0]) => `${(x - spot.x) * size.w} ${(y - spot.y) * size.h}`).join("L")}Z`
    : `M${-r} 0A${r} ${r} 0 1 1 ${r} 0A${r} ${r} 0 1 1 ${-r} 0`;
  return (
    <g
      transform={`translate(${spot.x * size.w} ${spot.y * size.h})`}
      className={`proposed${spot.outline ? " is-outlined" : ""}${asked ? " is-asked" : gone ? " is-dropped" : ""}`}
      role="checkbox"
      aria-checked={!gone}
      tabIndex={0}
      aria-label={`Proposed: ${spot.name}, ${spot.role}, ${spot.swatch.words}${spot.doubt ? `. ${spot.doubt}` : ""}`}
      onPointerDown={(event) => {
        event.stopPropagation();
        onToggle();
      }}
      onKeyDown={(event) => {
        if (event.key !== "Enter" && event.key !== " ") return;
        event.preventDefault();
        onToggle();
      }}
    >
      <circle r={Math.max(spot.outline ? 8 : r, 10)} className="spot-hit" />
      <path d={outline} className="spot-outer" />
      <path d={outline} className="spot-inner" />
      {asked ? (
        <text x={0} y={4} textAnchor="middle" className="spot-number">
          ?
        </text>
      ) : spot.outline && !gone ? null : (
        <path d={gone ? "M-3 -3L3 3M-3 3L3 -3" : "M-4 0L-1 3L4 -3"} className="proposed-tick" />
      )}
    </g>
  );
}
