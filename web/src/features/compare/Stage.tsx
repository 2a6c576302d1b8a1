import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import type { Compared } from "../../api/client";
import { comparedUrl, type Way } from "../../api/comparing";

export type Arrangement = "lift" | "blink" | "side";

type Props = {
  compared: Compared;
  shape: { width: number; height: number };
  arrangement: Arrangement;
  way: Way;
  /** Ids of the spots that are named on the drawing. */
  named: { id: string; words: string }[];
  selected: string | null;
  mine: Set<string>;
  version: string;
};

const STEP = 0.04;
const BLINK_MS = 900;
const REDUCED = "(prefers-reduced-motion: reduce)";
const within = (part: number) => Math.min(1, Math.max(0, part));

/** The fold that lifts so much of the sheet from its upper right corner: its ends, and what is left of the drawing. */
export function fold(lift: number): { ends: [number, number, number, number]; left: string } {
  const k = 2 * lift;
  const points: [number, number][] =
    k <= 1
      ? [
          [0, 0],
          [1 - k, 0],
          [1, k],
          [1, 1],
          [0, 1],
        ]
      : [
          [0, k - 1],
          [2 - k, 1],
          [0, 1],
        ];
  const left = `polygon(${points.map(([x, y]) => `${100 * x}% ${100 * y}%`).join(", ")})`;
  return { ends: k <= 1 ? [1 - k, 0, 1, k] : [0, k - 1, 2 - k, 1], left };
}

/** The drawing over its picture, in register: lifted at a corner, blinking, or side by side. */
export function Stage(props: Props) {
  const { compared, shape, arrangement, way, named, selected, mine, version } = props;
  const place = useRef<HTMLDivElement>(null);
  const [lift, setLift] = useState(0.3);
  const [dragging, setDragging] = useState(false);
  const [under, setUnder] = useState(false);
  useEffect(() => {
    if (arrangement !== "blink" || window.matchMedia(REDUCED).matches) return;
    const timer = window.setInterval(() => setUnder((now) => !now), BLINK_MS);
    return () => window.clearInterval(timer);
  }, [arrangement]);
  const drawing = comparedUrl(compared.id, "drawing", way, true, version);
  const reference = comparedUrl(
    compared.id,
    "reference",
    way === "surround" ? "as_it_is" : way,
    true,
    version,
  );
  const ratio = shape.width / shape.height;
  const { ends, left } = fold(lift);
  const drag = (event: PointerEvent) => {
    const box = place.current?.getBoundingClientRect();
    if (!box || !dragging) return;
    const [x, y] = [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
    setLift(within((1 - x + y) / 2));
  };
  const keys = (event: KeyboardEvent) => {
    const to = {
      ArrowLeft: lift + STEP,
      ArrowDown: lift + STEP,
      ArrowRight: lift - STEP,
      ArrowUp: lift - STEP,
      Home: 0,
      End: 1,
    }[event.key];
    if (to === undefined) return;
    event.preventDefault();
    setLift(within(to));
  };
  const marks = (
    <svg className="compare-marks" viewBox="0 0 1000 1000" preserveAspectRatio="none" aria-hidden="true">
      {compared.spots
        .filter((spot) => mine.has(spot.spot) && spot.seen)
        .map((spot) => (
          <path
            key={spot.spot}
            className={spot.spot === selected ? "is-selected" : ""}
            d={`M${1000 * spot.x - 7 / Math.max(1, ratio)} ${1000 * spot.y}h${14 / Math.max(1, ratio)}M${1000 * spot.x} ${1000 * spot.y - 7 * Math.min(1, ratio)}v${14 * Math.min(1, ratio)}`}
          />
        ))}
    </svg>
  );
  const words = named.map(({ id, words: said }) => {
    const spot = compared.spots.find((row) => row.spot === id);
    return (
      spot && (
        <span
          key={id}
          className={spot.x > 0.7 ? "compare-word is-left" : "compare-word"}
          style={{ left: `${100 * spot.x}%`, top: `${100 * spot.y}%` }}
        >
          {said}
        </span>
      )
    );
  });
  if (arrangement === "side")
    return (
      <div className="compare-side">
        <figure style={{ aspectRatio: ratio }}>
          <img src={drawing} alt="Your drawing" />
          {marks}
          {words}
          <figcaption>your drawing</figcaption>
        </figure>
        <figure style={{ aspectRatio: ratio }}>
          <img src={reference} alt="What was to be drawn" />
          <figcaption>picture</figcaption>
        </figure>
      </div>
    );
  const lifted = arrangement === "lift";
  return (
    <div
      className="compare-stage"
      ref={place}
      style={{ aspectRatio: ratio }}
      onPointerMove={drag}
      onPointerUp={() => setDragging(false)}
      onPointerCancel={() => setDragging(false)}
    >
      <img src={reference} alt="What was to be drawn" />
      <img
        src={drawing}
        alt="Your drawing"
        style={lifted ? { clipPath: left } : { visibility: under ? "hidden" : undefined }}
      />
      <div style={lifted ? { clipPath: left } : undefined} className="compare-over">
        {!under && marks}
        {!under && words}
      </div>
      {lifted ? (
        <>
          <svg className="compare-roll" viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden="true">
            <line x1={ends[0]} y1={ends[1]} x2={ends[2]} y2={ends[3]} className="is-shade" />
            <line x1={ends[0]} y1={ends[1]} x2={ends[2]} y2={ends[3]} />
            <line x1={ends[0]} y1={ends[1]} x2={ends[2]} y2={ends[3]} className="is-light" />
          </svg>
          <span
            role="slider"
            tabIndex={0}
            aria-label="Lift the corner"
            aria-valuemin={0}
            aria-valuemax={100}
            aria-valuenow={Math.round(100 * lift)}
            aria-valuetext={`${Math.round(100 * lift)} % of the sheet lifted`}
            className="compare-grip"
            style={{
              left: `${50 * (ends[0] + ends[2])}%`,
              top: `${50 * (ends[1] + ends[3])}%`,
            }}
            onKeyDown={keys}
            onPointerDown={(event) => {
              event.currentTarget.setPointerCapture(event.pointerId);
              setDragging(true);
            }}
            onPointerMove={drag}
            onPointerUp={() => setDragging(false)}
          />
          <span className="compare-side-name">your drawing</span>
          <span className="compare-side-name is-right">picture</span>
        </>
      ) : (
        <button type="button" className="compare-blink" onClick={() => setUnder(!under)}>
          {under ? "picture" : "your drawing"}
        </button>
      )}
    </div>
  );
}
