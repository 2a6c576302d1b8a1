import type { Stick } from "../../api/client";

/** Where a stick lies in a chart: a row from light to dark, a column from 0. */
export type Cell = { stick: Stick; row: number; column: number };

const [FIRST_HUE, GREY] = [340, 8];

const chroma = ({ swatch: { lab } }: Stick) => Math.hypot(lab[1] ?? 0, lab[2] ?? 0);
/** From violet reds over yellow and green to blue and violet, 0 to 360. */
const hue = ({ swatch: { lab } }: Stick) =>
  ((Math.atan2(lab[2] ?? 0, lab[1] ?? 0) * 180) / Math.PI - FIRST_HUE + 720) % 360;

/**
 * Sticks by value down and hue across, greys last, none upon another: as near to its hue's own column as there is room.
 * More of one value than there are columns take several rows.
 */
export function byValueAndHue(sticks: readonly Stick[], columns: number): Cell[] {
  const values = new Map<number, Stick[]>();
  for (const stick of sticks) {
    const value = Math.min(9, Math.floor(stick.swatch.value));
    values.set(value, [...(values.get(value) ?? []), stick]);
  }
  const wanted = wantedColumns(sticks, columns);
  const cells: Cell[] = [];
  let row = 0;
  for (const value of [...values.keys()].sort((a, b) => b - a)) {
    const held = (values.get(value) ?? []).sort((a, b) => (wanted.get(a) ?? 0) - (wanted.get(b) ?? 0));
    for (let from = 0; from < held.length; from += columns) {
      const line = held.slice(from, from + columns);
      cells.push(...placed(line, wanted, columns).map((column, i) => cell(line, i, row, column)));
      row += 1;
    }
  }
  return cells;
}

const cell = (line: Stick[], i: number, row: number, column: number): Cell => ({
  stick: line[i] as Stick,
  row,
  column,
});

/** The column that each would have to itself: an equal share of the coloured for each, the last for greys. */
function wantedColumns(sticks: readonly Stick[], columns: number): Map<Stick, number> {
  const coloured = sticks.filter((stick) => chroma(stick) >= GREY).sort((a, b) => hue(a) - hue(b));
  const found = new Map<Stick, number>();
  coloured.forEach((stick, i) => {
    found.set(stick, (i / Math.max(1, coloured.length)) * (columns - 1));
  });
  for (const stick of sticks) if (!found.has(stick)) found.set(stick, columns - 1);
  return found;
}

/** Columns for a row that is in order: none twice, none outside, each near to what is wanted. */
function placed(line: readonly Stick[], wanted: Map<Stick, number>, columns: number): number[] {
  const found: number[] = [];
  line.forEach((stick, i) => {
    const free = (found[i - 1] ?? -1) + 1;
    const last = columns - (line.length - i);
    found.push(Math.min(last, Math.max(free, Math.round(wanted.get(stick) ?? 0))));
  });
  return found;
}

/** Sticks as they lie in their box. */
export const byPlace = (sticks: readonly Stick[], perRow: number): Cell[] =>
  sticks.map((stick, i) => ({ stick, row: Math.floor(i / perRow), column: i % perRow }));

const byCode = new Intl.Collator("en", { numeric: true });

/** Sticks by range and number, each range beginning a row; and the rows at which a range begins. */
export function byNumber(
  sticks: readonly Stick[],
  columns: number,
): { cells: Cell[]; heads: { row: number; range: string }[] } {
  const ranges = new Map<string, Stick[]>();
  for (const stick of sticks) ranges.set(stick.range, [...(ranges.get(stick.range) ?? []), stick]);
  const cells: Cell[] = [];
  const heads: { row: number; range: string }[] = [];
  let row = 0;
  for (const range of [...ranges.keys()].sort(byCode.compare)) {
    const held = (ranges.get(range) ?? []).sort((a, b) => byCode.compare(a.code, b.code));
    heads.push({ row, range: range || "of no range" });
    held.forEach((stick, i) => {
      cells.push({ stick, row: row + 1 + Math.floor(i / columns), column: i % columns });
    });
    row += 1 + Math.ceil(held.length / columns);
  }
  return { cells, heads };
}

/** What was typed, found in number, name, medium, range, note or condition. */
export function matches(stick: Stick, typed: string, condition: string): boolean {
  const held =
    `${stick.code} ${stick.name} ${stick.medium.replace("_", " ")} ${stick.range} ${stick.note} ${condition} ${stick.feel.join(" ")}`.toLowerCase();
  return typed
    .toLowerCase()
    .split(/\s+/)
    .every((word) => held.includes(word));
}
