import { useEffect, useMemo, useRef, useState } from "react";
import type { Tray } from "../../api/client";
import { useMaterials } from "../../api/queries";
import { CONDITIONS } from "../../ui/stickWords";
import { Chart } from "./Chart";
import { byNumber, byPlace, byValueAndHue, matches } from "./layout";

export const VIEWS = ["by value and hue", "by place in the box", "by range and number"] as const;
export type View = (typeof VIEWS)[number];

const [WIDEST, BOX_ROW] = [82, 12];

type Props = {
  tray: Tray;
  view: View;
  typed: string;
  picked: string | null;
  marked: ReadonlySet<string>;
  marking: boolean;
  onPick: (code: string) => void;
  onMark: (code: string) => void;
  onOrder: (codes: string[]) => void;
};

/** The sticks of a box, laid out. */
export function Sticks({ tray, view, typed, picked, marked, marking, onPick, onMark, onOrder }: Props) {
  const greys = useMaterials().data?.value_greys ?? [];
  const [attach, width] = useWidth();
  const room = Math.max(3, Math.floor(width / WIDEST));
  const { cells, heads, columns } = useMemo(() => {
    const shown = typed.trim()
      ? tray.sticks.filter((stick) => matches(stick, typed.trim(), CONDITIONS[stick.condition] ?? ""))
      : tray.sticks;
    if (view === "by place in the box") {
      // As many in a row as in the box, if there is room for that; found ones close up.
      const perRow = tray.per_row && tray.per_row <= room * 2.6 ? tray.per_row : Math.min(room, BOX_ROW);
      return { cells: byPlace(shown, perRow), heads: [], columns: perRow };
    }
    if (view === "by range and number") return { ...byNumber(shown, room), columns: room };
    return { cells: byValueAndHue(shown, room), heads: [], columns: room };
  }, [tray, view, typed, room]);
  const byValue = view === "by value and hue";
  const carry = (code: string, to: string) => {
    const codes = tray.sticks.map((stick) => stick.code);
    const [from, goal] = [codes.indexOf(code), codes.indexOf(to)];
    if (from < 0 || goal < 0 || from === goal) return;
    codes.splice(goal, 0, ...codes.splice(from, 1));
    onOrder(codes);
  };
  return (
    <section className={`sticks${columns > room ? " is-narrow" : ""}`} aria-label={tray.name} ref={attach}>
      {byValue && <Scale rows={rowsOf(cells)} greys={greys} />}
      {cells.length === 0 ? (
        <p className="hint">Nothing in this box has these words.</p>
      ) : (
        <Chart
          cells={cells}
          heads={heads}
          columns={columns}
          picked={picked}
          marked={marked}
          marking={marking}
          onPick={onPick}
          onMark={onMark}
          onCarry={view === "by place in the box" && !typed.trim() ? carry : undefined}
        />
      )}
    </section>
  );
}

/** The whole value of each row of a chart by value. */
function rowsOf(cells: ReturnType<typeof byPlace>): number[] {
  const found: number[] = [];
  for (const { row, stick } of cells) found[row] = Math.min(9, Math.floor(stick.swatch.value));
  return found;
}

const WORDS: Record<number, string> = {
  9: "white",
  8: "pale",
  6: "light",
  4: "middle",
  2: "dark",
  0: "deepest",
};

/** The grey of each row, and words for some. */
function Scale({ rows, greys }: { rows: number[]; greys: string[] }) {
  return (
    <ol className="value-scale" aria-hidden="true">
      {rows.map((value, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a row is its place
        <li key={i} style={{ background: greys[value] }}>
          {rows[i - 1] !== value && <span>{WORDS[value]}</span>}
        </li>
      ))}
    </ol>
  );
}

/** The width in pixels that an element has, kept up to date. */
function useWidth(): [(element: HTMLElement | null) => void, number] {
  const [width, setWidth] = useState(880);
  const watch = useRef<ResizeObserver | null>(null);
  useEffect(() => () => watch.current?.disconnect(), []);
  const [attach] = useState(() => (element: HTMLElement | null) => {
    watch.current?.disconnect();
    if (!element) return;
    watch.current = new ResizeObserver(() => setWidth(element.clientWidth - 60));
    watch.current.observe(element);
  });
  return [attach, width];
}
