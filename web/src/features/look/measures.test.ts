import { describe, expect, test } from "vitest";
import type { Mark, Measured } from "../../api/client";
import { gridPath, inWords } from "./measures";

const mark = (kind: Mark["kind"]): Mark => ({ id: "m", kind, x1: 0, y1: 0, x2: 1, y2: 1 });
const measured: Measured = { id: "m", pixels: 100, mm: 42.4, ratio: null, angle_deg: 46.6, off_deg: -2.25 };

describe("what a measure says", () => {
  test("in the words of its kind", () => {
    expect(inWords(mark("plumb"), measured)).toBe("2.3° from upright");
    expect(inWords(mark("level"), measured)).toBe("2.3° from level");
    expect(inWords(mark("ray"), measured)).toBe("47°");
    expect(inWords(mark("caliper"), measured)).toBe("42 mm");
    expect(inWords(mark("caliper"), { ...measured, ratio: 1.504 })).toBe("1.50 ×");
    expect(inWords(mark("caliper"), undefined)).toBe("");
  });
});

test("a grid has its lines, and diagonals both ways in every field", () => {
  expect(gridPath(2, 1, false, 100, 50)).toBe("M0 0V50M50 0V50M100 0V50M0 0H100M0 50H100");
  expect(gridPath(2, 2, true, 100, 50).match(/L/g)).toHaveLength(8);
});
