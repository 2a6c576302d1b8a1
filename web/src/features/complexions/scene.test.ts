import { expect, test } from "vitest";
import { FIRST, lampOf, moved, round180, sceneOf, toKelvin, toPlace, turned, withSkin } from "./scene";

test("the lamp goes round behind the head and stops above and below", () => {
  const behind = moved({ ...FIRST, key: { ...FIRST.key, azimuth: 170 } }, 30, 0);
  expect(behind.key.azimuth).toBe(-160);
  expect(moved(FIRST, 0, 400).key.height).toBe(90);
  expect(moved(FIRST, 0, -400).key.height).toBe(-90);
  expect(FIRST.key.azimuth).toBe(-50);
});

test("a head turns all the way and tilts so far", () => {
  expect(turned(FIRST, 0, 350, 0).sitters[0]?.turn).toBe(2);
  expect(turned(FIRST, 0, 0, 100).sitters[0]?.tilt).toBe(60);
  expect(turned(FIRST, 5, 10, 10)).toEqual(FIRST);
});

test("only what is changed of a skin changes", () => {
  const after = withSkin(FIRST, 0, { depth: 30 });
  expect(after.sitters[0]?.skin).toEqual({ ...FIRST.sitters[0]?.skin, depth: 30 });
  expect(after.key).toBe(FIRST.key);
});

test.each([1500, 1900, 2700, 4000, 6500, 10000])(
  "a lamp of %d K stays where it is on its slider",
  (kelvin) => {
    const again = toKelvin(toPlace(kelvin));
    expect(Math.abs(again - kelvin) / kelvin).toBeLessThan(0.06);
  },
);

test("a lamp that is moved into daylight is daylight, and an LED stays one", () => {
  expect(lampOf(FIRST.key.lamp, 6500).kind).toBe("daylight");
  expect(lampOf(FIRST.key.lamp, 2000).kind).toBe("glow");
  expect(lampOf({ ...FIRST.key.lamp, kind: "led" }, 6500).kind).toBe("led");
});

test("degrees go round", () => {
  expect([190, -190, 540].map(round180)).toEqual([-170, 170, -180]);
});

test("a piece gives its scene back, and none where nothing is imagined", () => {
  const { sitters, ...light } = FIRST;
  const seats = sitters.map((sitter) => ({ figure: "f", sitter }));
  const document = { imagined: { seats, ...light, sheet: null } };
  expect(sceneOf({ document } as never)).toEqual(FIRST);
  expect(sceneOf({ document: { imagined: null } } as never)).toBeNull();
});
