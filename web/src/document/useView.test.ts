import { expect, test } from "vitest";
import { viewOf } from "./useView";

test("what is shown of a picture holds the spots, is a quarter higher than wide, and lies within", () => {
  const spots = [
    { x: 0.3, y: 0.2 },
    { x: 0.6, y: 0.7 },
  ];
  for (const ratio of [0.7, 1, 1.6]) {
    const view = viewOf(spots, ratio);
    for (const { x, y } of spots) {
      expect(x).toBeGreaterThanOrEqual(view.x);
      expect(x).toBeLessThanOrEqual(view.x + view.width);
      expect(y).toBeGreaterThanOrEqual(view.y);
      expect(y).toBeLessThanOrEqual(view.y + view.height);
    }
    expect(view.height / view.width / ratio).toBeCloseTo(1.25);
    expect(Math.max(view.x + view.width, view.y + view.height)).toBeLessThanOrEqual(1.0001);
  }
});

test("one spot, or none, still shows a part of the picture", () => {
  for (const spots of [[], [{ x: 0.98, y: 0.02 }]]) {
    const view = viewOf(spots, 1.2);
    expect(view.width).toBeGreaterThanOrEqual(0.3);
    expect(Math.min(view.x, view.y)).toBeGreaterThanOrEqual(0);
    expect(view.x + view.width).toBeLessThanOrEqual(1);
  }
});
