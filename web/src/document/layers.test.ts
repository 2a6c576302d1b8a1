import { expect, test } from "vitest";
import type { Schemas } from "../api/client";
import { counted, inWords, type Layer, layersOf } from "./layers";

const level = (pressure: string, repeats: number, flicked = false) => ({ pressure, repeats, flicked });

test("small numbers are words, and one is not many", () => {
  expect(["no layers", "one layer", "twelve layers", "13 layers"]).toEqual(
    [0, 1, 12, 13].map((n) => counted(n, "layer")),
  );
});

test.each([
  [level("light", 1), "lay", false, "light, once"],
  [level("heavy", 3), "lay", false, "heavy, three times"],
  [level("medium", 2), "lay", true, "two coats"],
  [level("medium", 1, true), "lay", true, "flicked, one coat"],
  [level("medium", 1), "wet", true, "one coat, worked in wet"],
  [level("heavy", 1), "burnish", false, "burnish"],
  [level("medium", 1), "smudge", false, "rub together"],
])("%o by %s, inked %s: %s", (how, technique, inked, said) => {
  expect(inWords(how as Schemas["Level"], technique, inked)).toBe(said);
});

test("layers of a figure are those that lie over a spot of it, in working order", () => {
  const layer = (id: string, levels: Record<string, unknown>) => ({ id, levels }) as unknown as Layer;
  const document = {
    spots: [
      { id: "a", figure: "one" },
      { id: "b", figure: "two" },
    ],
    layers: [
      layer("both", { a: level("light", 1), b: level("light", 1) }),
      layer("second's", { b: level("light", 1) }),
      layer("bare", { a: null }),
      layer("first's", { a: level("heavy", 1) }),
      layer("nobody's", { gone: level("heavy", 1) }),
    ],
  } as unknown as Schemas["Document"];
  const named = (figure: string) => layersOf(document, figure).map((row) => row.id);
  expect(named("one")).toEqual(["both", "first's"]);
  expect(named("two")).toEqual(["both", "second's"]);
  expect(named("three")).toEqual([]);
});
