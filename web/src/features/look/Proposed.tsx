import { useState } from "react";
import type { SuggestedSpot } from "../../api/client";
import { ARROWS } from "../../ui/arrows";
import type { Size } from "../../ui/PictureCanvas";
import { stepped } from "../../ui/stepped";
import type { Proposal } from "./proposal";

/** A taken place, as a spot lies on the picture; one that is left out. */
const CROSS = "M-5 0H5M0 -5V5";
const DOT = "M-1.5 0H1.5";

type Props = { proposal: Proposal; size: Size; onToggle: (i: number) => void };

/** Proposed places on the picture, taken or left out by a tap: one stop of the Tab key, arrows within. */
export function Proposals({ proposal, size, onToggle }: Props) {
  const [at, setAt] = useState(0);
  const shown = proposal.spots.flatMap((spot, i) =>
    !spot.doubt || proposal.figures.some((row) => row.id === spot.figure && row.face)
      ? [{ id: String(i), i, x: spot.x, y: spot.y, spot }]
      : [],
  );
  const stop = shown.some((row) => row.i === at) ? at : shown[0]?.i;
  return (
    <g>
      {shown.map((row) => (
        <Proposed
          key={row.id}
          spot={row.spot}
          size={size}
          gone={proposal.dropped.has(row.i)}
          isStop={row.i === stop}
          onFocus={() => setAt(row.i)}
          onToggle={() => onToggle(row.i)}
          onKeyDown={(event) => {
            const arrow = ARROWS[event.key];
            if (arrow) {
              const next = stepped(shown, row, arrow, size.w / size.h);
              const all = event.currentTarget.parentElement?.children;
              if (next) (all?.[shown.indexOf(next)] as SVGGElement | undefined)?.focus();
            } else if (event.key === "Enter" || event.key === " ") onToggle(row.i);
            else return;
            event.preventDefault();
            event.stopPropagation();
          }}
        />
      ))}
    </g>
  );
}

type OneProps = {
  spot: SuggestedSpot;
  size: Size;
  gone: boolean;
  isStop: boolean;
  onFocus: () => void;
  onToggle: () => void;
  onKeyDown: (event: React.KeyboardEvent) => void;
};

/** One of them: the cross that it will be, its outline where it is an area, a question as long as it is doubtful. */
function Proposed({ spot, size, gone, isStop, onFocus, onToggle, onKeyDown }: OneProps) {
  const [named, setNamed] = useState(false);
  const asked = spot.doubt !== "" && gone;
  const outline =
    spot.outline &&
    `M${spot.outline.map(([x = 0, y = 0]) => `${(x - spot.x) * size.w} ${(y - spot.y) * size.h}`).join("L")}Z`;
  const mark = gone ? DOT : CROSS;
  return (
    <g
      transform={`translate(${spot.x * size.w} ${spot.y * size.h})`}
      className={`proposed${gone && !asked ? " is-dropped" : ""}`}
      role="checkbox"
      aria-checked={!gone}
      tabIndex={isStop ? 0 : -1}
      aria-label={`Proposed: ${spot.name}, ${spot.role}, ${spot.swatch.words}${spot.doubt ? `. ${spot.doubt}` : ""}`}
      onPointerDown={(event) => {
        event.stopPropagation();
        onToggle();
      }}
      onPointerEnter={() => setNamed(true)}
      onPointerLeave={() => setNamed(false)}
      onFocus={() => {
        setNamed(true);
        onFocus();
      }}
      onBlur={() => setNamed(false)}
      onKeyDown={onKeyDown}
    >
      <circle r={14} className="spot-hit" />
      {outline && <path d={outline} className="proposed-area" />}
      {asked ? (
        <text x={0} y={4} textAnchor="middle" className="spot-number">
          ?
        </text>
      ) : (
        <>
          <path d={mark} className="spot-outer" />
          <path d={mark} className="spot-inner" />
        </>
      )}
      {named && (
        <text x={10} y={-7} className="spot-number">
          {spot.name}
        </text>
      )}
    </g>
  );
}
