import { type PointerEvent, useLayoutEffect, useRef, useState } from "react";
import type { Spot } from "../api/client";

export type Disc = Pick<Spot, "x" | "y" | "radius">;

type Props = {
  url: string;
  alt: string;
  width: number;
  height: number;
  spots: Spot[];
  selected: string | null;
  marked?: Set<string>;
  onSelect: (id: string) => void;
  onAdd?: (x: number, y: number) => void;
  onChange?: (id: string, disc: Partial<Disc>) => void;
  onRemove?: (id: string) => void;
  /** Grow with the width, up to this part of the parent's height, instead of filling the place. */
  byWidth?: number;
};

type Drag = { id: string; kind: "move" | "size"; disc: Disc };

export const SMALLEST = 0.002;
export const LARGEST = 0.25;
const NUDGE = 0.004;
const clamp = (v: number, low: number, high: number) => Math.min(high, Math.max(low, v));

/** The reference with its spots, as large as the place allows. Spots are dragged, sized and nudged here. */
export function Stage(props: Props) {
  const { url, alt, width, height, spots, selected, marked, onSelect, onAdd, onChange, onRemove, byWidth } =
    props;
  const place = useRef<HTMLDivElement>(null);
  const picture = useRef<SVGSVGElement>(null);
  const [size, setSize] = useState({ w: 0, h: 0 });
  const [drag, setDrag] = useState<Drag | null>(null);

  useLayoutEffect(() => {
    const element = place.current;
    if (!element) return;
    const fit = () => {
      const tallest = byWidth ? (element.parentElement?.clientHeight ?? 0) * byWidth : element.clientHeight;
      const scale = Math.min(element.clientWidth / width, tallest / height);
      setSize({ w: width * scale, h: height * scale });
    };
    fit();
    const watch = new ResizeObserver(fit);
    watch.observe(element);
    return () => watch.disconnect();
  }, [width, height, byWidth]);

  const longer = Math.max(size.w, size.h);
  const where = (event: PointerEvent | React.MouseEvent) => {
    const box = picture.current?.getBoundingClientRect();
    if (!box) return { x: 0, y: 0 };
    return {
      x: clamp((event.clientX - box.left) / box.width, 0, 1),
      y: clamp((event.clientY - box.top) / box.height, 0, 1),
    };
  };
  const begin = (event: PointerEvent<SVGElement>, spot: Spot, kind: Drag["kind"]) => {
    event.stopPropagation();
    onSelect(spot.id);
    if (!onChange || event.button !== 0) return;
    picture.current?.setPointerCapture(event.pointerId);
    setDrag({ id: spot.id, kind, disc: { x: spot.x, y: spot.y, radius: spot.radius } });
  };
  const move = (event: PointerEvent) => {
    if (!drag) return;
    const at = where(event);
    if (drag.kind === "move") setDrag({ ...drag, disc: { ...drag.disc, ...at } });
    else {
      const dx = (at.x - drag.disc.x) * size.w;
      const dy = (at.y - drag.disc.y) * size.h;
      setDrag({
        ...drag,
        disc: { ...drag.disc, radius: clamp(Math.hypot(dx, dy) / longer, SMALLEST, LARGEST) },
      });
    }
  };
  const end = () => {
    if (!drag) return;
    const held = spots.find((spot) => spot.id === drag.id);
    const { x, y, radius } = drag.disc;
    if (held && (held.x !== x || held.y !== y || held.radius !== radius)) onChange?.(drag.id, drag.disc);
    setDrag(null);
  };
  const nudge = (event: React.KeyboardEvent, spot: Spot) => {
    const far = NUDGE * (event.shiftKey ? 5 : 1);
    const steps: Record<string, Partial<Disc>> = {
      ArrowLeft: { x: clamp(spot.x - far, 0, 1) },
      ArrowRight: { x: clamp(spot.x + far, 0, 1) },
      ArrowUp: { y: clamp(spot.y - far, 0, 1) },
      ArrowDown: { y: clamp(spot.y + far, 0, 1) },
      "+": { radius: clamp(spot.radius * 1.15, SMALLEST, LARGEST) },
      "-": { radius: clamp(spot.radius / 1.15, SMALLEST, LARGEST) },
    };
    const change = steps[event.key];
    if (change) onChange?.(spot.id, change);
    else if (event.key === "Delete" || event.key === "Backspace") onRemove?.(spot.id);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };

  return (
    <div className={`stage${byWidth ? " is-by-width" : ""}`} ref={place}>
      <div className="stage-inner" style={{ width: size.w, height: size.h }}>
        <img src={url} alt={alt} draggable={false} />
        <svg
          ref={picture}
          width={size.w}
          height={size.h}
          className={onAdd ? "can-add" : ""}
          role="group"
          aria-label="Spots"
          onPointerMove={move}
          onPointerUp={end}
          onPointerCancel={() => setDrag(null)}
          onPointerDown={(event) => {
            if (!onAdd || event.button !== 0) return;
            const at = where(event);
            onAdd(at.x, at.y);
          }}
        >
          {spots.map((spot, i) => {
            const disc = drag?.id === spot.id ? drag.disc : spot;
            const r = Math.max(5, disc.radius * longer);
            const on = spot.id === selected;
            return (
              <g
                key={spot.id}
                data-spot={spot.id}
                className={`spot${on ? " is-selected" : ""}${marked && !marked.has(spot.id) ? " is-dim" : ""}`}
                transform={`translate(${disc.x * size.w} ${disc.y * size.h})`}
                tabIndex={0}
                role="button"
                aria-pressed={on}
                aria-label={`Spot ${i + 1}, ${spot.name}, ${spot.role}${
                  spot.reading
                    ? `, ${spot.reading.swatch.words}, value ${spot.reading.swatch.value.toFixed(1)}`
                    : ""
                }`}
                onPointerDown={(event) => begin(event, spot, "move")}
                onFocus={() => onSelect(spot.id)}
                onKeyDown={(event) => nudge(event, spot)}
              >
                <circle r={Math.max(r, 14)} className="spot-hit" />
                <circle r={r + 1.5} className="spot-outer" />
                <circle r={r} className="spot-inner" />
                <text x={r + 4} y={-r + 2} className="spot-number">
                  {i + 1}
                </text>
                {on && onChange && (
                  <rect
                    x={r - 5}
                    y={r - 5}
                    width={11}
                    height={11}
                    className="spot-size"
                    onPointerDown={(event) => begin(event, spot, "size")}
                  >
                    <title>Drag to resize</title>
                  </rect>
                )}
              </g>
            );
          })}
        </svg>
      </div>
    </div>
  );
}
