import { memo, useRef } from "react";
import type { Stick } from "../../api/client";
import { ARROWS, type Arrow } from "../../ui/arrows";
import { Strokes } from "../../ui/Strokes";
import { CONDITIONS } from "../../ui/stickWords";
import type { Cell } from "./layout";

type Props = {
  cells: Cell[];
  heads?: { row: number; range: string }[];
  columns: number;
  picked: string | null;
  marked: ReadonlySet<string>;
  /** Whether a tap marks instead of picking. */
  marking: boolean;
  onPick: (code: string) => void;
  onMark: (code: string) => void;
  /** A stick carried to where another one lies; only where places are shown. */
  onCarry?: (code: string, to: string) => void;
};

/** The cell that lies next in a direction: the nearest, across counting double. */
function next(cells: Cell[], from: Cell, [dx, dy]: Arrow): Cell | undefined {
  const off = (cell: Cell) => {
    const [along, across] = dx
      ? [(cell.column - from.column) * dx, cell.row - from.row]
      : [(cell.row - from.row) * dy, cell.column - from.column];
    return along > 0 ? along + 2 * Math.abs(across) : Number.POSITIVE_INFINITY;
  };
  const found = [...cells].sort((a, b) => off(a) - off(b))[0];
  return found && Number.isFinite(off(found)) ? found : undefined;
}

/** Sticks in rows and columns: one stop of the Tab key, arrows within, Space marks, Alt and arrows carry. */
export function Chart(props: Props) {
  const { cells, heads = [], columns, picked, marked, marking, onPick, onMark, onCarry } = props;
  const list = useRef<HTMLUListElement>(null);
  const carried = useRef<string | null>(null);
  const at = cells.find((cell) => cell.stick.code === picked) ?? cells[0];
  const press = (event: React.KeyboardEvent) => {
    if (event.key === " " && at) {
      event.preventDefault();
      onMark(at.stick.code);
      return;
    }
    const direction = ARROWS[event.key];
    const to = direction && at && next(cells, at, direction);
    if (!to || !at) return;
    event.preventDefault();
    if (event.altKey) {
      onCarry?.(at.stick.code, to.stick.code);
      return;
    }
    onPick(to.stick.code);
    list.current?.querySelector<HTMLElement>(`[data-code="${CSS.escape(to.stick.code)}"]`)?.focus();
  };
  return (
    <ul
      ref={list}
      className="chart"
      aria-label="What is in this box"
      style={{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }}
      onKeyDown={press}
    >
      {heads.map((head) => (
        <li key={`head ${head.range}`} className="chart-head" style={{ gridRow: head.row + 1 }}>
          {head.range}
        </li>
      ))}
      {cells.map(({ stick, row, column }) => (
        <li key={stick.code} style={{ gridRow: row + 1, gridColumn: column + 1 }}>
          <button
            type="button"
            data-code={stick.code}
            className={`stick${stick.condition === "good" ? "" : ` is-${stick.condition}`}${marked.has(stick.code) ? " is-marked" : ""}`}
            aria-current={stick.code === picked}
            aria-pressed={marked.has(stick.code)}
            tabIndex={stick === at?.stick ? 0 : -1}
            draggable={!!onCarry}
            onDragStart={() => {
              carried.current = stick.code;
            }}
            onDragOver={(event) => onCarry && event.preventDefault()}
            onDrop={() => carried.current && onCarry?.(carried.current, stick.code)}
            onClick={(event) => (marking || event.shiftKey ? onMark(stick.code) : onPick(stick.code))}
          >
            <Face stick={stick} />
          </button>
        </li>
      ))}
    </ul>
  );
}

const SAYS: Record<string, string> = { low: "low", dried_out: "dry", wanted: "wanted" };

/** Drawn once: of 300 sticks only those change that are touched. */
const Face = memo(function Face({ stick }: { stick: Stick }) {
  return (
    <>
      {stick.condition === "wanted" ? (
        <span className="stick-wanted">
          <i style={{ background: stick.swatch.hex }} />
        </span>
      ) : (
        <Strokes hex={stick.swatch.hex} pressure="heavy" medium={stick.medium} />
      )}
      <span className="chip-code">
        <b>{stick.code}</b>
        <span className="visually-hidden">
          {` ${stick.name}, value ${stick.swatch.value.toFixed(1)}, ${CONDITIONS[stick.condition]}`}
        </span>
        <span aria-hidden="true">
          {SAYS[stick.condition] ?? (stick.count > 1 ? `${stick.count} ×` : stick.swatch.value.toFixed(1))}
        </span>
      </span>
    </>
  );
});
