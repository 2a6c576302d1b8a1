import { describe, expect, test } from "vitest";
import type { Role, SeenSpot } from "../api/client";
import { rowsOf, short, spread, wanted } from "./ladderRows";

const spot = (id: string, value: number | null, role: Role = "light"): SeenSpot =>
  ({
    id,
    name: id,
    role,
    reading: value === null ? null : { swatch: { value, hex: "#808080", words: "grey" } },
  }) as unknown as SeenSpot;

describe("the rows of a ladder", () => {
  test("go from light to dark, and what is not read yet stands at the foot", () => {
    const rows = rowsOf([spot("dark", 2), spot("new", null), spot("pale", 8)], 9, null);
    expect(rows.map((row) => row.words)).toEqual(["pale", "dark", "new"]);
    expect(wanted(spot("new", null))).toBe(0);
  });

  const many = [
    ...Array.from({ length: 6 }, (_, i) => spot(`light ${i}`, 7 + i / 10, "light")),
    ...Array.from({ length: 6 }, (_, i) => spot(`shadow ${i}`, 3 + i / 10, "shadow")),
  ];
  test("are one for each role where there are too many", () => {
    const rows = rowsOf(many, 5, null);
    expect(rows.map((row) => row.words)).toEqual(["light (6)", "shadow (6)"]);
    expect(rows.map((row) => row.folded)).toEqual([6, 6]);
  });
  test("unfold the role of the one that is picked, and never hide it", () => {
    for (const most of [5, 6, 7, 8])
      for (const { id } of many) {
        const rows = rowsOf(many, most, id);
        expect(rows.length).toBeLessThanOrEqual(most);
        expect(rows.some((row) => row.spot.id === id && row.folded === 0)).toBe(true);
      }
  });
  test("leave the spots that they were given in their order", () => {
    const given = [spot("b", 1), spot("a", 9)];
    rowsOf(given, 9, null);
    expect(given.map((row) => row.id)).toEqual(["b", "a"]);
  });
});

describe("heights of rows", () => {
  /** The same numbers in every run. */
  const some = (count: number, seed: number) =>
    Array.from({ length: count }, (_, i) => 10 + ((i * 7919 + seed * 104729) % 380)).sort((a, b) => a - b);
  test("keep their order, their distance and their limits", () => {
    for (let seed = 0; seed < 60; seed++) {
      const wantedAt = some(1 + (seed % 18), seed);
      const placed = spread(wantedAt, 20, 10, 390);
      for (const [i, at] of placed.entries()) {
        expect(at).toBeGreaterThanOrEqual(10);
        expect(at).toBeLessThanOrEqual(390);
        if (i > 0) expect(at - (placed[i - 1] ?? 0)).toBeGreaterThanOrEqual(20 - 1e-9);
      }
    }
  });
  test("stay where they are wanted as long as nothing is in the way", () => {
    expect(spread([30, 80, 200], 20, 10, 390)).toEqual([30, 80, 200]);
    expect(spread([], 20, 10, 390)).toEqual([]);
  });
  test("give way downwards first, and upwards at the foot", () => {
    expect(spread([50, 50], 20, 10, 390)).toEqual([50, 70]);
    expect(spread([388, 389], 20, 10, 390)).toEqual([370, 390]);
  });
});

describe("names on a ladder", () => {
  test("are whole where there is room, and lose whole words where there is none", () => {
    expect(short("cheek, lit", 14)).toBe("cheek, lit");
    expect(short("forehead, far side", 14)).toBe("forehead, far …");
    expect(short("extraordinarily", 8)).toBe("extraor …");
  });
});
