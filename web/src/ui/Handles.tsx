import { type PointerEvent, type ReactNode, useRef, useState } from "react";
import { ARROWS } from "./arrows";
import "./style/handles.css";

export type At = [number, number];

type Props = {
  url: string;
  alt: string;
  /** Of the picture, in any unit. */
  width: number;
  height: number;
  points: readonly At[];
  /** What each point is, read aloud. */
  names: readonly string[];
  /** A line through them, back to the first. */
  joined?: boolean;
  onMove: (points: At[]) => void;
  onTap?: (at: At) => void;
  children?: ReactNode;
};

const FINE = 0.002;
const COARSE = 0.02;
const LOUPE = 3;
/** Half of the loupe's side in pixels, as the style has it. */
const HALF = 66;
/** Per cent of the window. */
const TALLEST = 56;
const within = (part: number) => Math.min(1, Math.max(0, part));

/** A picture with points on it that are dragged, or moved by the arrow keys, under a loupe. */
export function Handles(props: Props) {
  const { url, alt, width, height, points, names, joined, onMove, onTap, children } = props;
  const place = useRef<HTMLDivElement>(null);
  const [held, setHeld] = useState<{ at: number; moved: At[] } | null>(null);
  const shown = held?.moved ?? points;
  const where = (event: PointerEvent): At => {
    const box = place.current?.getBoundingClientRect();
    if (!box) return [0, 0];
    return [within((event.clientX - box.left) / box.width), within((event.clientY - box.top) / box.height)];
  };
  const put = (at: number, to: At): At[] => shown.map((point, i) => (i === at ? to : point));
  const near = held ? shown[held.at] : undefined;
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: what is tapped here is also laid by a grid of numbers
    // biome-ignore lint/a11y/noStaticElementInteractions: the points in it are its buttons
    <div
      className={onTap ? "handles can-tap" : "handles"}
      ref={place}
      style={{ aspectRatio: `${width} / ${height}`, width: `min(100%, ${TALLEST * (width / height)}vh)` }}
      onClick={(event) => {
        const on = event.target as HTMLElement;
        if (onTap && !on.closest("button")) onTap(where(event as unknown as PointerEvent));
      }}
    >
      <img src={url} alt={alt} draggable={false} />
      {children}
      {joined && (
        <svg viewBox="0 0 1 1" preserveAspectRatio="none" aria-hidden="true">
          <polygon points={shown.map((point) => point.join(",")).join(" ")} />
        </svg>
      )}
      {shown.map(([x, y], i) => (
        <button
          key={names[i]}
          type="button"
          className="handle"
          aria-label={names[i]}
          style={{ left: `${100 * x}%`, top: `${100 * y}%` }}
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            setHeld({ at: i, moved: [...shown] });
          }}
          onPointerMove={(event) => held?.at === i && setHeld({ at: i, moved: put(i, where(event)) })}
          onPointerUp={() => {
            if (held) onMove(held.moved);
            setHeld(null);
          }}
          onPointerCancel={() => setHeld(null)}
          onKeyDown={(event) => {
            const arrow = ARROWS[event.key];
            if (!arrow) return;
            event.preventDefault();
            const far = event.shiftKey ? COARSE : FINE;
            onMove(put(i, [within(x + arrow[0] * far), within(y + arrow[1] * far)]));
          }}
        />
      ))}
      {near && <Loupe url={url} at={near} of={place.current} />}
    </div>
  );
}

/** What lies under a finger, larger, at the other side. */
function Loupe({ url, at: [x, y], of }: { url: string; at: At; of: HTMLElement | null }) {
  const [w, h] = [(of?.clientWidth ?? 1) * LOUPE, (of?.clientHeight ?? 1) * LOUPE];
  return (
    <span
      className={x < 0.5 ? "loupe is-right" : "loupe"}
      aria-hidden="true"
      style={{
        backgroundImage: `url("${url}")`,
        backgroundSize: `${w}px ${h}px`,
        backgroundPosition: `${HALF - x * w}px ${HALF - y * h}px`,
      }}
    />
  );
}
