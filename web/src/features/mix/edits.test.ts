import { describe, expect, test } from "vitest";
import type { PieceDocument } from "../../api/client";
import { brushed, byMap, canSplit, harder, moved, oftener, ownLayers, setAt, split, without } from "./edits";

const at = (pressure: string, repeats: number) => ({ pressure, repeats, flicked: false });
const layer = (id: string, levels: Record<string, ReturnType<typeof at> | null>) => ({
  id,
  stick: id.toUpperCase(),
  levels,
  technique: "lay",
  locked: false,
});
const spot = (id: string, figure: string, role: string) => ({ id, figure, role });
const DOCUMENT = {
  spots: [spot("lit", "f", "light"), spot("dark", "f", "shadow"), spot("other", "g", "light")],
  layers: [
    layer("a", { lit: at("light", 1), dark: at("heavy", 3), other: at("medium", 2) }),
    layer("b", { lit: null, dark: at("medium", 1) }),
    layer("c", { other: at("light", 2) }),
  ],
} as unknown as PieceDocument;
const OWN = ownLayers(DOCUMENT, "f");

describe("changing the layers of a figure", () => {
  test("what lies over another figure is not sent with them", () => {
    expect(OWN.map((row) => row.id)).toEqual(["a", "b"]);
    expect(OWN[0]?.levels).toEqual({ lit: at("light", 1), dark: at("heavy", 3) });
  });
  test("harder and oftener stay within what a hand can do, and are kept", () => {
    expect(harder(OWN, "a", 1)[0]).toMatchObject({
      locked: true,
      levels: { lit: at("medium", 1), dark: at("heavy", 3) },
    });
    expect(harder(OWN, "a", -1)[0]?.levels.lit).toEqual(at("light", 1));
    expect(oftener(OWN, "a", 1)[0]?.levels).toEqual({ lit: at("light", 2), dark: at("heavy", 3) });
    expect(oftener(OWN, "b", -1)[1]?.levels).toEqual({ lit: null, dark: at("medium", 1) });
  });
  test("what is changed by hand begins with what its map has at the places", () => {
    const row = (levels: Record<string, ReturnType<typeof at> | null>) =>
      [{ layer: "a", doses: [], levels, where: [], in_flecks: false }] as Parameters<typeof byMap>[1];
    const [first] = OWN;
    if (!first) throw new Error("no layer");
    const shown = byMap(first, row({ dark: at("medium", 2) }));
    expect(shown.levels).toEqual({ lit: at("light", 1), dark: at("medium", 2) });
    expect(setAt([shown], "a", "lit", null)[0]?.levels).toEqual({ lit: null, dark: at("medium", 2) });
    // A map that has nothing at the places leaves them as they were planned.
    expect(byMap(first, row({ lit: null, dark: null }))).toBe(first);
    expect(byMap(first, [])).toBe(first);
    // What a hand has just set does not jump back to the map before.
    const set = { ...first, locked: true };
    expect(byMap(set, row({ dark: at("medium", 2) }))).toBe(set);
  });
  test("the order changes by as much as there is room for", () => {
    expect(moved(OWN, "a", 5).map((row) => row.id)).toEqual(["b", "a"]);
    expect(moved(OWN, "b", -1).map((row) => row.id)).toEqual(["b", "a"]);
    expect(moved(OWN, "none", 1)).toBe(OWN);
    expect(without(OWN, "a").map((row) => row.id)).toEqual(["b"]);
  });
  test("a brush lays the usual dose in its middle and the softest at its edge", () => {
    const far = brushed(OWN, "b", { lit: 0.9 }, true)[1];
    expect(far?.levels.lit).toEqual(at("medium", 1));
    const bare = [
      layer("d", { lit: null, dark: null, x: at("heavy", 2), y: at("light", 1), z: at("heavy", 2) }),
    ];
    expect(brushed(bare, "d", { lit: 0.1, dark: 0.9 }, true)[0]?.levels).toMatchObject({
      lit: at("heavy", 2),
      dark: at("light", 1),
    });
    expect(brushed(OWN, "a", { lit: 0, dark: 0 }, false)[0]?.levels).toEqual({ lit: null, dark: null });
    // What lies there already stays.
    expect(brushed(OWN, "a", { dark: 0 }, true)[0]?.levels.dark).toEqual(at("heavy", 3));
    expect(setAt(OWN, "b", "lit", at("light", 1))[1]).toMatchObject({
      locked: true,
      levels: { lit: at("light", 1) },
    });
  });
  test("a layer that lies in light and shade becomes two, the shade first", () => {
    expect([canSplit(DOCUMENT, OWN[0] as never), canSplit(DOCUMENT, OWN[1] as never)]).toEqual([true, false]);
    const [shade, light, rest] = split(DOCUMENT, OWN, "a");
    expect([shade?.id, shade?.levels]).toEqual(["a", { lit: null, dark: at("heavy", 3) }]);
    expect([light?.stick, light?.levels]).toEqual(["A", { lit: at("light", 1), dark: null }]);
    expect(light?.id).not.toBe("a");
    expect(rest?.id).toBe("b");
  });
});
