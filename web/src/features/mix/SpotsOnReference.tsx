import { type PointerEvent, useRef, useState } from "react";
import type { SeenSpot } from "../../api/client";
import type { View } from "../../ui/Crop";

type Props = {
  view: View;
  /** The picture's width by its height. */
  ratio: number;
  spots: SeenSpot[];
  selected: string | null;
  /** While places are brushed: the spots over which the layer lies. */
  brush: Set<string> | null;
  onSelect: (id: string) => void;
  onBrushed: (under: Record<string, number>, add: boolean) => void;
};

/** The radius of the brush, as a part of what is seen of the picture's width. */
const BRUSH = 0.09;

/**
 * The spots over the reference, as crosses; the one that is picked is a diamond tied to the ladder beside it. While
 * places are brushed, a stroke that begins on a place of the layer takes away, every other one adds.
 */
export function SpotsOnReference({ view, ratio, spots, selected, brush, onSelect, onBrushed }: Props) {
  const ref = useRef<SVGSVGElement>(null);
  const [stroke, setStroke] = useState<{
    under: Record<string, number>;
    add: boolean;
    x: number;
    y: number;
  } | null>(null);
  const tall = (100 * view.height) / (view.width * ratio);
  const place = (spot: SeenSpot) => ({
    x: (100 * (spot.x - view.x)) / view.width,
    y: (tall * (spot.y - view.y)) / view.height,
  });
  const at = (event: PointerEvent) => {
    const box = ref.current?.getBoundingClientRect();
    if (!box) return { x: 0, y: 0 };
    return {
      x: ((event.clientX - box.left) / box.width) * 100,
      y: ((event.clientY - box.top) / box.height) * tall,
    };
  };
  const far = (spot: SeenSpot, x: number, y: number) =>
    Math.hypot(place(spot).x - x, place(spot).y - y) / (100 * BRUSH);
  const nearest = (x: number, y: number) =>
    spots.reduce<SeenSpot | null>(
      (held, spot) => (!held || far(spot, x, y) < far(held, x, y) ? spot : held),
      null,
    );
  const under = (held: Record<string, number>, x: number, y: number) => {
    const next = { ...held };
    for (const spot of spots) {
      const here = far(spot, x, y);
      if (here <= 1) next[spot.id] = Math.min(here, next[spot.id] ?? 1);
    }
    return next;
  };
  const down = (event: PointerEvent<SVGSVGElement>) => {
    const { x, y } = at(event);
    if (!brush) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const first = nearest(x, y);
    const add = !(first && far(first, x, y) <= 1 && brush.has(first.id));
    setStroke({ under: under({}, x, y), add, x, y });
  };
  const move = (event: PointerEvent<SVGSVGElement>) => {
    if (!stroke) return;
    const { x, y } = at(event);
    setStroke({ ...stroke, under: under(stroke.under, x, y), x, y });
  };
  const up = (event: PointerEvent<SVGSVGElement>) => {
    if (stroke) {
      if (Object.keys(stroke.under).length > 0) onBrushed(stroke.under, stroke.add);
      setStroke(null);
      return;
    }
    const { x, y } = at(event);
    const found = nearest(x, y);
    if (found) onSelect(found.id);
  };
  return (
    <svg
      ref={ref}
      className={brush ? "spots-over is-brushing" : "spots-over"}
      viewBox={`0 0 100 ${tall}`}
      role="img"
      aria-label={brush ? "Brush over the places to add or take away" : "The spots on the reference"}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onPointerCancel={() => setStroke(null)}
    >
      {spots.map((spot) => {
        const { x, y } = place(spot);
        const on = stroke && spot.id in stroke.under ? stroke.add : (brush?.has(spot.id) ?? false);
        if (spot.id === selected && !brush)
          return (
            <g key={spot.id}>
              <path d={`M${x} ${y}H100`} className="spot-tie is-under" />
              <path d={`M${x} ${y}H100`} className="spot-tie" />
              <path d={`M${x} ${y - 2.6}l2.6 2.6l-2.6 2.6l-2.6 -2.6Z`} className="spot-diamond" />
            </g>
          );
        return (
          <g key={spot.id}>
            {brush && <circle cx={x} cy={y} r={2.4} className={on ? "spot-brushed is-on" : "spot-brushed"} />}
            <path d={`M${x - 1.6} ${y}h3.2M${x} ${y - 1.6}v3.2`} className="spot-cross is-under" />
            <path d={`M${x - 1.6} ${y}h3.2M${x} ${y - 1.6}v3.2`} className="spot-cross" />
          </g>
        );
      })}
      {stroke && (
        <>
          <circle cx={stroke.x} cy={stroke.y} r={100 * BRUSH} className="brush" />
          <circle cx={stroke.x} cy={stroke.y} r={60 * BRUSH} className="brush is-core" />
        </>
      )}
    </svg>
  );
}
