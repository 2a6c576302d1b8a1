import { expect, test } from "vitest";
import { curve, place } from "./dome";

const DOME = { x: 100, y: 100, radius: 80 };

test("right is right, up is up, and the front is near", () => {
  expect(place(DOME, 90, 0).x).toBeCloseTo(180);
  expect(place(DOME, -90, 0).x).toBeCloseTo(20);
  expect(place(DOME, 0, 90).y).toBeLessThan(place(DOME, 0, 0).y);
  expect(place(DOME, 0, 0).near).toBeGreaterThan(0);
  expect(place(DOME, 180, 0).near).toBeLessThan(0);
});

test("a ring goes once round, half of it behind", () => {
  const [near, far] = curve(DOME, (share) => [share * 360, 0]);
  expect(near.match(/[ML]/g)?.length).toBeGreaterThan(30);
  expect(far.match(/[ML]/g)?.length).toBeGreaterThan(30);
});
