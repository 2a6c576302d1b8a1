import { expect, test } from "vitest";
import { figureOutline } from "./figureMark";
import { ordinal, whereInBox } from "./stickWords";

test("where a stick lies is said as one counts in a box", () => {
  expect([0, 2, 9, 10, 20, 21, 110].map(ordinal)).toEqual([
    "first",
    "third",
    "tenth",
    "11th",
    "21st",
    "22nd",
    "111th",
  ]);
  expect(whereInBox(0, 12)).toBe("first row, first");
  expect(whereInBox(25, 12)).toBe("third row, second");
  expect(whereInBox(4, 0)).toBe("the fifth of the box");
});

test("figures are told apart by the shape of their marks, not by colour alone", () => {
  const outlines = Array.from({ length: 8 }, (_, i) => figureOutline(i, 10));
  expect(new Set(outlines).size).toBe(8);
  for (const outline of outlines) expect(outline).toMatch(/^M.*Z$/);
  // The ninth has the first one's again.
  expect(figureOutline(8, 10)).toBe(outlines[0]);
  // Corners lie about the middle: none of them is nearer than half of the size, or farther than one and a half.
  for (const outline of outlines.slice(1)) {
    for (const corner of outline.slice(1, -1).split("L")) {
      const [x = 0, y = 0] = corner.split(" ").map(Number);
      expect(Math.hypot(x, y)).toBeGreaterThan(10);
      expect(Math.hypot(x, y)).toBeLessThan(15);
    }
  }
});
