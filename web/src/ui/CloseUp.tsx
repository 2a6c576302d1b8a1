import { useLayoutEffect, useRef, useState } from "react";
import type { Spot } from "../api/client";

const ENLARGED = 16;

type Props = { url: string; width: number; height: number; spot: Spot };

/** One spot of the reference from near. */
export function CloseUp({ url, width, height, spot }: Props) {
  const place = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ w: 300, h: 200 });
  useLayoutEffect(() => {
    const element = place.current;
    if (!element) return;
    const watch = new ResizeObserver(() => setSize({ w: element.clientWidth, h: element.clientHeight }));
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  // The disc's diameter takes a sixteenth of the width that is shown at twice its size.
  const scale = (size.w * 2) / (ENLARGED * 2 * spot.radius * Math.max(width, height));
  const shown = { w: width * scale, h: height * scale };
  const radius = spot.radius * Math.max(shown.w, shown.h);
  return (
    <div className="close-up" ref={place} role="img" aria-label={`${spot.name} from near`}>
      <img
        src={url}
        alt=""
        style={{ width: shown.w, left: size.w / 2 - spot.x * shown.w, top: size.h / 2 - spot.y * shown.h }}
      />
      <svg width={size.w} height={size.h} aria-hidden="true">
        <g transform={`translate(${size.w / 2} ${size.h / 2})`}>
          <circle r={radius + 1.5} className="spot-outer" />
          <circle r={radius} className="spot-inner" />
        </g>
      </svg>
    </div>
  );
}
