import { expect, test } from "vitest";
import { openedOn } from "./opening";

const ROOM = { w: 600, h: 640 };
/** A wide picture in an upright place. */
const WIDE = { w: 600, h: 400 };
const FACE = { x: 0.2, y: 0.2, width: 0.2, height: 0.6 };

test("a head opens at about half the height of its place, in its middle", () => {
  const far = openedOn([{ x: 0.45, y: 0.4, width: 0.1, height: 0.2 }], ROOM, { w: 600, h: 640 });
  expect(far?.near).toBeCloseTo(0.52 / 0.2);
  expect([far?.x, far?.y]).toEqual([0.5, 0.5]);
});

test("a picture that is wider than its place fills it, as long as the head stays whole", () => {
  expect(openedOn([FACE], ROOM, WIDE)?.near).toBeCloseTo(640 / 400);
  const broad = openedOn([{ x: 0.05, y: 0.2, width: 0.6, height: 0.6 }], ROOM, WIDE);
  expect(broad?.near).toBeCloseTo(0.8 / 0.6);
});

test("several heads are all seen", () => {
  const two = openedOn([FACE, { ...FACE, x: 0.6 }], ROOM, WIDE);
  const left = 0.5 - 0.5 / ((two?.near ?? 1) * (WIDE.w / ROOM.w));
  expect(two?.x).toBeCloseTo(0.5);
  expect(left).toBeLessThan(FACE.x);
});

test("without a face, without room, or hardly nearer, it opens as a whole", () => {
  expect(openedOn([], ROOM, WIDE)).toBeNull();
  expect(openedOn([FACE], { w: 0, h: 0 }, WIDE)).toBeNull();
  expect(openedOn([{ x: 0.1, y: 0.1, width: 0.8, height: 0.5 }], ROOM, ROOM)).toBeNull();
});

test("a face that is tiny does not open from nearer than a hand would go", () => {
  expect(openedOn([{ x: 0.5, y: 0.5, width: 0.01, height: 0.01 }], ROOM, ROOM)?.near).toBe(4);
});
