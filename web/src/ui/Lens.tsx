import { type PointerEvent, useState } from "react";

type Props = { url: string; alt: string; w: number; h: number };

const STEP = 0.03;
const clamp = (v: number, low: number, high: number) => Math.min(high, Math.max(low, v));

/** A window onto another way of seeing, moved by its lower edge or by arrow keys, sized by its corner. */
export function Lens({ url, alt, w, h }: Props) {
  const [box, setBox] = useState({ x: 0.3, y: 0.2, w: 0.4, h: 0.4 });
  const [drag, setDrag] = useState<{ kind: "move" | "size"; x: number; y: number; box: typeof box } | null>(
    null,
  );
  const put = (next: typeof box) =>
    setBox({
      x: clamp(next.x, 0, 1 - next.w),
      y: clamp(next.y, 0, 1 - next.h),
      w: clamp(next.w, 0.1, 1),
      h: clamp(next.h, 0.1, 1),
    });
  const begin = (kind: "move" | "size") => (event: PointerEvent) => {
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    setDrag({ kind, x: event.clientX, y: event.clientY, box });
  };
  const move = (event: PointerEvent) => {
    if (!drag) return;
    const dx = (event.clientX - drag.x) / w;
    const dy = (event.clientY - drag.y) / h;
    if (drag.kind === "move") put({ ...drag.box, x: drag.box.x + dx, y: drag.box.y + dy });
    else
      put({
        ...drag.box,
        w: clamp(drag.box.w + dx, 0.1, 1 - drag.box.x),
        h: clamp(drag.box.h + dy, 0.1, 1 - drag.box.y),
      });
  };
  const nudge = (event: React.KeyboardEvent) => {
    const moves: Record<string, Partial<typeof box>> = {
      ArrowLeft: { x: box.x - STEP },
      ArrowRight: { x: box.x + STEP },
      ArrowUp: { y: box.y - STEP },
      ArrowDown: { y: box.y + STEP },
      "+": { w: Math.min(1 - box.x, box.w + STEP), h: Math.min(1 - box.y, box.h + STEP) },
      "-": { w: box.w - STEP, h: box.h - STEP },
    };
    const change = moves[event.key];
    if (!change) return;
    put({ ...box, ...change });
    event.preventDefault();
    event.stopPropagation();
  };
  const [left, top, right, bottom] = [box.x, box.y, 1 - box.x - box.w, 1 - box.y - box.h];
  const inset = `inset(${top * 100}% ${right * 100}% ${bottom * 100}% ${left * 100}%)`;
  return (
    <>
      <img className="lens-picture" src={url} alt={alt} draggable={false} style={{ clipPath: inset }} />
      <div
        className="lens-frame"
        style={{ left: box.x * w, top: box.y * h, width: box.w * w, height: box.h * h }}
      >
        <span
          role="button"
          tabIndex={0}
          aria-label="Window: arrow keys move it, plus and minus size it"
          className="lens-grip"
          onPointerDown={begin("move")}
          onPointerMove={move}
          onPointerUp={() => setDrag(null)}
          onKeyDown={nudge}
        />
        <span
          className="lens-corner"
          onPointerDown={begin("size")}
          onPointerMove={move}
          onPointerUp={() => setDrag(null)}
        />
      </div>
    </>
  );
}
