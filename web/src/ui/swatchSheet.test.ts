import { describe, expect, it } from "vitest";
import { boxAt, gridOf, LAID, namesFor, resized, type SeenSheet, sticksOf, withoutOne } from "./swatchSheet";

const box = (left: number, top: number) => ({ left, top, right: left + 0.1, bottom: top + 0.1 });
const sheet = (count: number, first: number | null = null) =>
  ({
    corners: [],
    width: 100,
    height: 100,
    first,
    swatches: Array.from({ length: count }, (_, i) => ({
      place: box(0.1 + 0.2 * i, 0.1),
      swatch: { hex: `#0000${i}0`, words: "deep blue" },
      spread: 1,
      doubt: 2.4,
      said: "",
    })),
  }) as unknown as SeenSheet;

describe("swatches in a photograph", () => {
  it("are named by hand before the list, by the list before the box, else by what is free", () => {
    const listed = [{ code: "12", name: "burnt sienna" }] as unknown as Parameters<typeof namesFor>[1];
    const own = [{ code: "1", name: "one of the box" }];
    expect(namesFor(sheet(3), listed, own, new Map([[2, { name: "mine" }]]))).toEqual([
      { code: "12", name: "burnt sienna" },
      { code: "2", name: "deep blue" },
      { code: "3", name: "mine" },
    ]);
  });

  it("on the printed sheet of a box are its sticks, after those of the pages before", () => {
    const own = [..."abcd"].map((code) => ({ code, name: `stick ${code}` }));
    expect(namesFor(sheet(2, 2), [], own, new Map()).map((row) => row.code)).toEqual(["c", "d"]);
  });

  it("say how they were laid", () => {
    const names = [{ code: " 7 ", name: "rust" }];
    expect(sticksOf(sheet(1), names, "pencil", LAID[0])[0]).toMatchObject({
      code: "7",
      hex: "#000000",
      source: "photographed",
    });
    expect(sticksOf(sheet(1), names, "pencil", LAID[1])[0]?.source).toBe("photographed thin");
  });

  it("that are tapped are as large as the others, and stay on the sheet", () => {
    expect(boxAt([0.99, 0.01], [box(0, 0)], 0.05, 1)).toEqual({ left: 0.9, top: 0, right: 1, bottom: 0.1 });
    expect(boxAt([0.5, 0.5], [], 0.25, 2)).toEqual({ left: 0.375, top: 0.25, right: 0.625, bottom: 0.75 });
    expect(resized([{ left: 0, top: 0.4, right: 0.2, bottom: 0.6 }], 2)[0]).toMatchObject({
      left: 0,
    });
  });

  it("in rows begin a grid", () => {
    const rows = gridOf([box(0.1, 0.1), box(0.3, 0.1), box(0.5, 0.1), box(0.1, 0.5)]);
    expect(rows).toMatchObject({ rows: 2, columns: 3, frame: { left: 0.1, top: 0.1, bottom: 0.6 } });
    expect(gridOf([])).toMatchObject({ rows: 4, columns: 6 });
  });

  it("keep what is written of those that stay", () => {
    const written = new Map([
      [0, { name: "a" }],
      [1, { name: "b" }],
      [2, { name: "c" }],
    ]);
    expect([...withoutOne(written, 1)]).toEqual([
      [0, { name: "a" }],
      [1, { name: "c" }],
    ]);
  });
});
