import { type PointerEvent, type ReactNode, useEffect, useLayoutEffect, useRef, useState } from "react";
import type { Face, Figure, SeenSpot, Spot } from "../api/client";
import { sized } from "../api/pictures";
import { ARROWS } from "./arrows";
import { figureOutline } from "./figureMark";
import { Lens } from "./Lens";
import { stepped } from "./stepped";
import { useLater } from "./useLater";
import { type Size, useView, useZoom, type Zoom } from "./useZoom";
import { ZoomBar } from "./ZoomBar";

export type { Size };

export type Disc = Pick<Spot, "x" | "y" | "radius">;
export type Point = { x: number; y: number };

/**
 * What a press, a drag and a release on the bare picture do. Without `move` a tap counts, and a drag moves the picture.
 * cancel: a second finger came, and nothing was meant.
 */
export type Tool = {
  down: (at: Point) => void;
  move?: (at: Point) => void;
  up?: (at: Point) => void;
  cancel?: () => void;
};

type Props = {
  url: string;
  alt: string;
  width: number;
  height: number;
  spots: SeenSpot[];
  figures?: Figure[];
  selected: string | null;
  hovered?: string | null;
  onSelect: (id: string) => void;
  onHover?: (id: string | null) => void;
  tool?: Tool;
  onChange?: (id: string, disc: Partial<Disc>) => void;
  onCorner?: (id: string, corner: number, to: Point | null) => void;
  onRemove?: (id: string) => void;
  /** Another way of seeing, through a window. */
  lens?: string;
  /** Drawn over the picture and its spots. */
  above?: (size: Size) => ReactNode;
  /** What is seen of it, where pictures stand side by side. */
  zoom?: Zoom;
  /** How many pixels its longer side was asked for with. */
  onFine?: (longest: number) => void;
  /** Another picture of the same beside it has the words for how near. */
  beside?: boolean;
  /** Faces that it opens on; none are given until it is known whether there are any. */
  faces?: Face[];
};

const NO_FACES: Face[] = [];
/** So long, in milliseconds, it is waited for what to open on, before the whole is shown. */
const PATIENCE = 500;
/** A finger that moved by no more than this meant a tap. */
const TAP = 6;

type Drag =
  | { id: string; kind: "move" | "size"; disc: Disc }
  | { id: string; kind: "corner"; corner: number; at: Point };

export const SMALLEST = 0.002;
export const LARGEST = 0.25;
const NUDGE = 0.004;
export const clamp = (v: number, low: number, high: number) => Math.min(high, Math.max(low, v));

/** A spot that is not picked: small, so that the picture is seen. */
const CROSS = "M-5 0H5M0 -5V5";

/** Where a spot lies, and nothing else that is known of it. */
const discOf = ({ x, y, radius }: Disc): Disc => ({ x, y, radius });

const said = (spot: SeenSpot, index: number) =>
  `Spot ${index + 1}, ${spot.name}, ${spot.role}${
    spot.reading ? `, ${spot.reading.swatch.words}, value ${spot.reading.swatch.value.toFixed(1)}` : ""
  }`;

/** The reference with its spots, as large as the place allows. Spots are dragged, sized and nudged here. */
export function PictureCanvas(props: Props) {
  const { url, alt, width, height, spots, figures, selected, hovered, tool } = props;
  const { onSelect, onHover, onChange, onCorner, onRemove } = props;
  const place = useRef<HTMLDivElement>(null);
  const picture = useRef<SVGSVGElement>(null);
  const [room, setRoom] = useState<Size>({ w: 0, h: 0 });
  const [drag, setDrag] = useState<Drag | null>(null);
  /** What could not be fetched, and how often that was tried anew. */
  const [lost, setLost] = useState("");
  const [again, setAgain] = useState(0);
  const working = useRef(false);
  const tap = useRef<{ x: number; y: number; moved: boolean } | null>(null);
  const fingers = useRef(false);

  useLayoutEffect(() => {
    const element = place.current;
    if (!element) return;
    const measure = () => setRoom({ w: element.clientWidth, h: element.clientHeight });
    measure();
    const watch = new ResizeObserver(measure);
    watch.observe(element);
    return () => watch.disconnect();
  }, []);

  const fit = Math.min(room.w / width, room.h / height);
  const whole = { w: width * fit, h: height * fit };
  const own = useView();
  const seen = useZoom({
    place,
    room,
    whole,
    zoom: props.zoom ?? own,
    faces: props.faces ?? NO_FACES,
    onPinch: (on) => {
      fingers.current = on;
      if (!on) return;
      if (working.current) tool?.cancel?.();
      working.current = false;
      tap.current = null;
      setDrag(null);
    },
  });
  const { size } = seen;
  const longer = Math.max(size.w, size.h);
  // A picture is asked for once it is known how large it opens, and what is there is not asked for again, smaller,
  // because something else takes room for a while.
  const [longest, setLongest] = useState(0);
  const waited = useLater(PATIENCE);
  if ((props.faces || waited) && longer > longest) setLongest(longer);
  const { onFine } = props;
  useEffect(() => {
    if (longest > 0) onFine?.(longest);
  }, [longest, onFine]);
  const where = (event: PointerEvent): Point => {
    const box = picture.current?.getBoundingClientRect();
    if (!box) return { x: 0, y: 0 };
    return {
      x: clamp((event.clientX - box.left) / box.width, 0, 1),
      y: clamp((event.clientY - box.top) / box.height, 0, 1),
    };
  };
  const begin = (event: PointerEvent<SVGElement>, spot: Spot, drag_: Drag) => {
    event.stopPropagation();
    seen.hold();
    onSelect(spot.id);
    if (!onChange || event.button !== 0) return;
    picture.current?.setPointerCapture(event.pointerId);
    setDrag(drag_);
  };
  const press = (event: PointerEvent<SVGSVGElement>) => {
    if (event.button !== 0 || fingers.current) return;
    seen.hold();
    event.currentTarget.setPointerCapture(event.pointerId);
    if (tool?.move) {
      working.current = true;
      tool.down(where(event));
    } else tap.current = { x: event.clientX, y: event.clientY, moved: false };
  };
  const move = (event: PointerEvent) => {
    if (fingers.current) return;
    if (working.current) return tool?.move?.(where(event));
    const start = tap.current;
    if (start) {
      const [dx, dy] = [event.clientX - start.x, event.clientY - start.y];
      if (!start.moved && Math.hypot(dx, dy) <= TAP) return;
      tap.current = { x: event.clientX, y: event.clientY, moved: true };
      const box = place.current?.getBoundingClientRect();
      if (box && seen.view.near > 1)
        seen.zoomAt(1, event.clientX - box.left, event.clientY - box.top, dx, dy);
      return;
    }
    if (!drag) return;
    const at = where(event);
    if (drag.kind === "corner") setDrag({ ...drag, at });
    else if (drag.kind === "move") setDrag({ ...drag, disc: { ...drag.disc, ...at } });
    else {
      const reach = Math.hypot((at.x - drag.disc.x) * size.w, (at.y - drag.disc.y) * size.h);
      setDrag({ ...drag, disc: { ...drag.disc, radius: clamp(reach / longer, SMALLEST, LARGEST) } });
    }
  };
  const end = (event: PointerEvent) => {
    if (working.current) {
      working.current = false;
      return tool?.up?.(where(event));
    }
    const tapped = tap.current;
    tap.current = null;
    if (tapped) {
      if (!tapped.moved) tool?.down(where(event));
      return;
    }
    if (!drag) return;
    const held = spots.find((spot) => spot.id === drag.id);
    if (held && drag.kind === "corner") onCorner?.(drag.id, drag.corner, drag.at);
    else if (held && drag.kind !== "corner") {
      const { x, y, radius } = drag.disc;
      if (held.x !== x || held.y !== y || held.radius !== radius) onChange?.(drag.id, drag.disc);
    }
    setDrag(null);
  };
  /** Arrows go from spot to spot, and with Alt they move the one that is picked. */
  const nudge = (event: React.KeyboardEvent, spot: Spot) => {
    const far = NUDGE * (event.shiftKey ? 5 : 1);
    const arrow = ARROWS[event.key];
    if (arrow && !event.altKey) {
      const next = stepped(spots, spot, arrow, width / height);
      if (next) picture.current?.querySelector<SVGGElement>(`[data-spot="${next.id}"]`)?.focus();
    } else if (arrow)
      onChange?.(spot.id, {
        x: clamp(spot.x + arrow[0] * far, 0, 1),
        y: clamp(spot.y + arrow[1] * far, 0, 1),
      });
    else if (event.key === "+" || event.key === "-")
      onChange?.(spot.id, {
        radius: clamp(event.key === "+" ? spot.radius * 1.15 : spot.radius / 1.15, SMALLEST, LARGEST),
      });
    else if (event.key === "Delete" || event.key === "Backspace") onRemove?.(spot.id);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const nudgeCorner = (event: React.KeyboardEvent, spot: Spot, corner: number) => {
    const at = spot.outline?.[corner];
    const arrow = ARROWS[event.key];
    if (!at) return;
    const far = NUDGE * (event.shiftKey ? 5 : 1);
    if (arrow)
      onCorner?.(spot.id, corner, {
        x: clamp((at[0] ?? 0) + arrow[0] * far, 0, 1),
        y: clamp((at[1] ?? 0) + arrow[1] * far, 0, 1),
      });
    else if (event.key === "Delete" || event.key === "Backspace") onCorner?.(spot.id, corner, null);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };

  const stop = spots.some((spot) => spot.id === selected) ? selected : spots[0]?.id;
  return (
    <div className="stage" ref={place}>
      <div
        className="stage-inner"
        style={{ width: size.w, height: size.h, transform: `translate(${seen.left}px, ${seen.top}px)` }}
      >
        {/* Only where its size is known is it asked for: no smaller or larger than it is shown. */}
        {longest > 0 && (
          <img
            key={again}
            src={`${sized(url, longest)}${again ? `&again=${again}` : ""}`}
            alt={alt}
            draggable={false}
            onError={() => setLost(url)}
            onLoad={() => setLost("")}
          />
        )}
        <svg
          ref={picture}
          width={size.w}
          height={size.h}
          className={tool ? "can-add" : seen.view.near > 1 ? "can-move" : ""}
          role="group"
          aria-label="Spots"
          onPointerDown={press}
          onPointerMove={move}
          onPointerUp={end}
          // Words beside a spot may be selected text: pulling must not take them along instead of drawing.
          onDragStart={(event) => event.preventDefault()}
          onPointerCancel={() => {
            working.current = false;
            tap.current = null;
            setDrag(null);
          }}
        >
          {spots.map((spot, i) => {
            const mine = drag?.id === spot.id ? drag : null;
            const disc = mine && mine.kind !== "corner" ? mine.disc : spot;
            const r = Math.max(5, disc.radius * longer);
            const on = spot.id === selected;
            const figure = Math.max(0, figures?.findIndex((row) => row.id === spot.figure) ?? 0);
            const corners = spot.outline?.map(([x = 0, y = 0], corner) =>
              mine?.kind === "corner" && mine.corner === corner ? mine.at : { x, y },
            );
            const shape = corners
              ? `M${corners.map((c) => `${(c.x - spot.x) * size.w} ${(c.y - spot.y) * size.h}`).join("L")}Z`
              : figureOutline(figure, r);
            const outline = on ? shape : CROSS;
            const state = `${on ? " is-selected" : ""}${spot.id === hovered ? " is-hovered" : ""}`;
            return (
              <g
                key={spot.id}
                data-spot={spot.id}
                className={`spot${state}`}
                transform={`translate(${disc.x * size.w} ${disc.y * size.h})`}
                tabIndex={spot.id === stop ? 0 : -1}
                role="button"
                aria-pressed={on}
                aria-label={said(spot, i)}
                aria-keyshortcuts="ArrowUp ArrowDown ArrowLeft ArrowRight Alt+ArrowUp Alt+ArrowDown + - Delete"
                onPointerDown={(event) =>
                  begin(event, spot, { id: spot.id, kind: "move", disc: discOf(spot) })
                }
                onPointerEnter={() => onHover?.(spot.id)}
                onPointerLeave={() => onHover?.(null)}
                onFocus={() => onSelect(spot.id)}
                onKeyDown={(event) => nudge(event, spot)}
              >
                {corners && on ? (
                  <path d={shape} className="spot-hit" />
                ) : (
                  <circle r={Math.max(r, 14)} className="spot-hit" />
                )}
                <path d={outline} className="spot-outer" />
                <path d={outline} className="spot-inner" />
                {on && (
                  <text x={corners ? 6 : r + 5} y={corners ? -8 : -r + 2} className="spot-number">
                    {spot.name}
                  </text>
                )}
                {on && onChange && !corners && (
                  <rect
                    x={r - 5}
                    y={r - 5}
                    width={11}
                    height={11}
                    className="spot-size"
                    onPointerDown={(event) =>
                      begin(event, spot, { id: spot.id, kind: "size", disc: discOf(spot) })
                    }
                  >
                    <title>Drag to resize</title>
                  </rect>
                )}
                {on &&
                  onCorner &&
                  corners?.map((c, corner) => (
                    <circle
                      // biome-ignore lint/suspicious/noArrayIndexKey: a corner is its number
                      key={corner}
                      cx={(c.x - spot.x) * size.w}
                      cy={(c.y - spot.y) * size.h}
                      r={5}
                      className="spot-size"
                      tabIndex={0}
                      role="button"
                      aria-label={`Corner ${corner + 1} of spot ${i + 1}`}
                      onPointerDown={(event) =>
                        begin(event, spot, { id: spot.id, kind: "corner", corner, at: c })
                      }
                      onKeyDown={(event) => nudgeCorner(event, spot, corner)}
                    />
                  ))}
              </g>
            );
          })}
          {props.above?.(size)}
        </svg>
        {props.lens && <Lens url={sized(props.lens, longest)} alt={alt} w={size.w} h={size.h} />}
      </div>
      {lost === url && (
        <p className="problem stage-lost" role="alert">
          The picture did not come through.{" "}
          <button type="button" className="btn btn-quiet btn-sm" onClick={() => setAgain(again + 1)}>
            try again
          </button>
        </p>
      )}
      {!props.beside && (
        <ZoomBar near={seen.view.near} nearest={seen.nearest} onStep={seen.step} onWhole={seen.showAll} />
      )}
    </div>
  );
}
