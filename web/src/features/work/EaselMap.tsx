import { type PointerEvent, useState } from "react";
import type { View } from "../../ui/Crop";
import { Crop } from "../../ui/Crop";
import { LightArrow } from "../../ui/LightArrow";

type Props = { url: string; alt: string; view: View; light: number | null };

const LOUPE = 190;
const NEARER = 2.4;

/** Where and how hard, with a loupe that follows the finger and jumps aside, and the light always in sight. */
export function EaselMap({ url, alt, view, light }: Props) {
  const [at, setAt] = useState<{ x: number; y: number; wide: number; tall: number } | null>(null);
  const follow = (event: PointerEvent<HTMLDivElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    setAt({ x: event.clientX - box.left, y: event.clientY - box.top, wide: box.width, tall: box.height });
  };
  const left = at && at.x > at.wide / 2 ? 8 : (at?.wide ?? 0) - LOUPE - 8;
  const shown = at && {
    width: (at.wide / view.width) * NEARER,
    left: LOUPE / 2 - ((view.x * at.wide) / view.width + at.x) * NEARER,
    top: LOUPE / 2 - ((view.y * at.tall) / view.height + at.y) * NEARER,
  };
  return (
    <div
      className="easel-map"
      onPointerMove={follow}
      onPointerDown={follow}
      onPointerLeave={() => setAt(null)}
      onPointerCancel={() => setAt(null)}
    >
      <Crop url={url} alt={alt} view={view} />
      {light !== null && (
        <span className="easel-light">
          <LightArrow fromDeg={light} size={52} />
        </span>
      )}
      {at && shown && (
        <>
          <svg className="loupe-tie" aria-hidden="true">
            <circle cx={at.x} cy={at.y} r={LOUPE / 2 / NEARER} />
            <path d={`M${at.x} ${at.y}L${left + LOUPE / 2} ${8 + LOUPE / 2}`} />
          </svg>
          <span className="loupe" style={{ left, width: LOUPE, height: LOUPE }} aria-hidden="true">
            <img src={url} alt="" draggable={false} style={{ ...shown, maxWidth: "none" }} />
          </span>
        </>
      )}
    </div>
  );
}
