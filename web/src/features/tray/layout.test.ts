import { describe, expect, test } from "vitest";
import type { Stick } from "../../api/client";
import { byNumber, byPlace, byValueAndHue, matches } from "./layout";

const stick = (code: string, value: number, lab: number[], more: object = {}): Stick =>
  ({
    code,
    name: `name ${code}`,
    medium: "pencil",
    range: "R",
    note: "",
    feel: [],
    swatch: { value, lab, hex: "#808080", words: "" },
    ...more,
  }) as unknown as Stick;

const RED = stick("r", 5.2, [52, 40, 20]);
const GREEN = stick("g", 5.7, [57, -40, 30]);
const GREY = stick("n", 5.1, [51, 1, 1]);
const PALE = stick("p", 9.1, [92, 3, 20]);
const DARK = stick("d", 2.1, [22, 10, -20]);

describe("a chart of sticks", () => {
  test("light above dark, red before green, greys last", () => {
    const cells = byValueAndHue([DARK, GREY, GREEN, RED, PALE], 6);
    const at = Object.fromEntries(cells.map((cell) => [cell.stick.code, cell]));
    expect(at.p?.row).toBe(0);
    expect([at.r?.row, at.g?.row, at.n?.row]).toEqual([1, 1, 1]);
    expect(at.d?.row).toBe(2);
    expect(at.r?.column).toBeLessThan(at.g?.column ?? 0);
    expect(at.n?.column).toBe(5);
  });
  test("none lies upon another or outside, however many there are", () => {
    const many = Array.from({ length: 300 }, (_, i) =>
      stick(String(i), (i * 7) % 10, [50, 40 * Math.cos(i), 40 * Math.sin(i)]),
    );
    const cells = byValueAndHue(many, 7);
    expect(new Set(cells.map((cell) => `${cell.row}/${cell.column}`)).size).toBe(300);
    expect(Math.max(...cells.map((cell) => cell.column))).toBeLessThan(7);
    expect(Math.min(...cells.map((cell) => cell.column))).toBeGreaterThanOrEqual(0);
    const rows = new Map<number, Set<number>>();
    for (const { row, stick: held } of cells)
      rows.set(row, (rows.get(row) ?? new Set()).add(Math.floor(held.swatch.value)));
    expect([...rows.values()].every((values) => values.size === 1)).toBe(true);
  });
  test("as they lie in the box, and by number within each range", () => {
    expect(byPlace([RED, GREEN, GREY], 2).map((cell) => [cell.row, cell.column])).toEqual([
      [0, 0],
      [0, 1],
      [1, 0],
    ]);
    const rows = ["10", "9", "2"].map((code) => stick(code, 5, [50, 0, 0]));
    const other = stick("1", 5, [50, 0, 0], { range: "A" });
    const { cells, heads } = byNumber([...rows, other], 2);
    expect(cells.map((cell) => [cell.stick.code, cell.row])).toEqual([
      ["1", 1],
      ["2", 3],
      ["9", 3],
      ["10", 4],
    ]);
    expect(heads).toEqual([
      { row: 0, range: "A" },
      { row: 2, range: "R" },
    ]);
  });
  test("what is typed is found in any of a stick's words", () => {
    expect(matches(RED, "R pencil", "here")).toBe(true);
    expect(matches(RED, "nearly", "nearly gone")).toBe(true);
    expect(matches(RED, "marker", "here")).toBe(false);
  });
});
