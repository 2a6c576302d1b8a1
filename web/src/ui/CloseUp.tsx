import { useLayoutEffect, useRef, useState } from "react";
import { nearUrl, type Spot } from "../api/client";

/** How many diameters of the spot are seen across the shorter side. */
const DIAMETERS = 8;

type Props = { picture: string; spot: Spot };

/** One spot of the reference from near. */
export function CloseUp({ picture, spot }: Props) {
  const place = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ w: 0, h: 0 });
  useLayoutEffect(() => {
    const element = place.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setSize({ w: element.clientWidth, h: element.clientHeight }));
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  const side = Math.max(size.w, size.h);
  const radius = Math.min(size.w, size.h) / DIAMETERS / 2;
  const part = radius > 0 ? (side / radius) * spot.radius : 0;
  // No more than the whole picture can be asked for.
  const shown = part > 1 ? side / part : side;
  return (
    <div className="close-up" ref={place} role="img" aria-label={`${spot.name} from near`}>
      {side > 0 && (
        <img
          src={nearUrl(picture, spot.x, spot.y, part)}
          alt=""
          style={{ width: shown, height: shown, left: (size.w - shown) / 2, top: (size.h - shown) / 2 }}
        />
      )}
      <svg width={size.w} height={size.h} aria-hidden="true">
        <g transform={`translate(${size.w / 2} ${size.h / 2})`}>
          <circle r={radius + 1.5} className="spot-outer" />
          <circle r={radius} className="spot-inner" />
        </g>
      </svg>
    </div>
  );
}
