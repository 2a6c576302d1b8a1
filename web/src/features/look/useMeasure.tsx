import { useState } from "react";
import { type Mark, type Measured, type PieceDocument, server } from "../../api/client";
import { useWrite } from "../../api/mutations";
import { useLimits } from "../../api/queries";
import { useEditor, usePiece } from "../../document/useEditor";
import { ARROWS } from "../../ui/arrows";
import type { Size } from "../../ui/PictureCanvas";
import { MeasurePanel } from "./MeasurePanel";
import { gridPath, inWords, type Kind } from "./measures";
import { newId, type Task } from "./task";

const SHORTEST = 0.004;
const NUDGE = 0.004;

/** Caliper, plumb and level lines, centre cross with angles, grid, and the sheet they are carried over to. */
export function useMeasure(): Task & { add: () => void } {
  const piece = usePiece();
  const { edit } = useEditor();
  const limits = useLimits();
  const { marks, cross, grid, unit } = piece.document;
  const [kind, setKind] = useState<Kind>("caliper");
  const [draft, setDraft] = useState<Mark | null>(null);
  const live = useWrite((mark: Mark) => server.measure(piece.id, mark));
  const [chosen, setChosen] = useState<string | null>(null);
  const change = (part: Partial<PieceDocument>) => edit((held) => ({ ...held, ...part }));

  const ask = (mark: Mark) => {
    if (!live.isPending) live.mutate(mark);
  };
  const remove = (id: string) =>
    change({ marks: marks.filter((mark) => mark.id !== id), unit: unit === id ? null : unit });
  const nudge = (event: React.KeyboardEvent, mark: Mark) => {
    const arrow = ARROWS[event.key];
    if (event.key === "Delete" || event.key === "Backspace") remove(mark.id);
    else if (arrow) {
      const within = (v: number) => Math.min(1, Math.max(0, v));
      const [right, down] = [arrow[0] * NUDGE, arrow[1] * NUDGE];
      const end = { x2: within(mark.x2 + right), y2: within(mark.y2 + down) };
      const start = { x1: within(mark.x1 + right), y1: within(mark.y1 + down) };
      const moved = event.shiftKey ? { ...mark, ...start } : { ...mark, ...end };
      change({ marks: marks.map((row) => (row.id === mark.id ? moved : row)) });
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const line = (mark: Mark, size: Size, measured: Measured | undefined) => {
    const [x1, y1, x2, y2] = [mark.x1 * size.w, mark.y1 * size.h, mark.x2 * size.w, mark.y2 * size.h];
    const path = `M${x1} ${y1}L${x2} ${y2}`;
    const text = inWords(mark, measured);
    return (
      <g
        key={mark.id}
        className={`measure${mark.id === chosen ? " is-selected" : ""}`}
        role="button"
        tabIndex={0}
        aria-label={`${mark.kind}: ${text}. Arrow keys move its end, with Shift its beginning.`}
        onFocus={() => setChosen(mark.id)}
        onPointerDown={(event) => {
          event.stopPropagation();
          setChosen(mark.id);
        }}
        onKeyDown={(event) => nudge(event, mark)}
      >
        <path d={path} className="line-hit" />
        <path d={path} className="line-outer" />
        <path d={path} className="line-inner" />
        {[0, 1].map((i) => (
          <circle key={i} cx={i ? x2 : x1} cy={i ? y2 : y1} r={4} className="measure-end" />
        ))}
        <text x={(x1 + x2) / 2 + 7} y={(y1 + y2) / 2 - 6} className="spot-number">
          {mark.id === unit ? "1" : text}
        </text>
      </g>
    );
  };
  const keep = (made: Mark) => {
    if (marks.length >= (limits.marks ?? 0)) return;
    change({ marks: [...marks, made] });
    setChosen(made.id);
  };
  return {
    add: () => {
      if (kind === "cross") return change({ cross: { x: 0.5, y: 0.5 } });
      const { x, y } = kind === "ray" && cross ? cross : { x: 0.5, y: 0.5 };
      const upright = kind === "plumb";
      keep({ id: newId(), kind, x1: x, y1: y, x2: upright ? x : x + 0.1, y2: upright ? y - 0.1 : y });
    },
    tool: {
      down: (at) => {
        if (kind === "cross") return change({ cross: at });
        const from = kind === "ray" ? (cross ?? { x: 0.5, y: 0.5 }) : at;
        setChosen(null);
        live.reset();
        setDraft({ id: newId(), kind, x1: from.x, y1: from.y, x2: at.x, y2: at.y });
      },
      move: (at) => {
        if (kind === "cross") return change({ cross: at });
        if (!draft) return;
        const next = { ...draft, x2: at.x, y2: at.y };
        setDraft(next);
        ask(next);
      },
      up: (at) => {
        if (!draft) return;
        const made = { ...draft, x2: at.x, y2: at.y };
        if (Math.hypot(made.x2 - made.x1, made.y2 - made.y1) > SHORTEST) keep(made);
        setDraft(null);
      },
    },
    above: (size) => (
      <>
        <Crop size={size} />
        {grid && <Grid {...grid} size={size} />}
        {cross && <Cross x={cross.x * size.w} y={cross.y * size.h} size={size} />}
        {marks.map((mark) =>
          line(
            mark,
            size,
            piece.found.measured.find((row) => row.id === mark.id),
          ),
        )}
        {draft && line(draft, size, live.data)}
      </>
    ),
    panel: (
      <MeasurePanel kind={kind} onKind={setKind} chosen={chosen} onChoose={setChosen} onRemove={remove} />
    ),
  };
}

/** What the sheet leaves off, darkened. */
function Crop({ size }: { size: Size }) {
  const piece = usePiece();
  const [left = 0, top = 0, right = 1, bottom = 1] = piece.found.placement?.crop ?? [];
  if (right - left + bottom - top > 2 - 1e-6) return null;
  const [x, y] = [left * size.w, top * size.h];
  const inner = `M${x} ${y}h${(right - left) * size.w}v${(bottom - top) * size.h}H${x}Z`;
  return (
    <g pointerEvents="none">
      <path d={`M0 0H${size.w}V${size.h}H0Z${inner}`} fillRule="evenodd" className="crop-off" />
      <path d={inner} className="line-inner" />
    </g>
  );
}

function Cross({ x, y, size }: { x: number; y: number; size: Size }) {
  const path = `M0 ${y}H${size.w}M${x} 0V${size.h}`;
  return (
    <g>
      <path d={path} className="line-outer" />
      <path d={path} className="line-inner" />
    </g>
  );
}

function Grid({
  columns,
  rows,
  diagonals,
  size,
}: {
  columns: number;
  rows: number;
  diagonals: boolean;
  size: Size;
}) {
  const piece = usePiece();
  const [left = 0, top = 0, right = 1, bottom = 1] = piece.found.placement?.crop ?? [];
  const path = gridPath(columns, rows, diagonals, (right - left) * size.w, (bottom - top) * size.h);
  return (
    <g transform={`translate(${left * size.w} ${top * size.h})`} className="grid-lines">
      <path d={path} className="line-outer" />
      <path d={path} className="line-inner" />
    </g>
  );
}
