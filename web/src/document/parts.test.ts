import { describe, expect, it, test } from "vitest";
import cases from "../../../tests/parts.json";
import type { PieceDocument } from "../api/client";
import { changed, changes, differences, inWords, merge, type Parts, partsBefore, partsOf } from "./parts";

const document = cases.document as unknown as PieceDocument;
const titled = (some: Parts = {}, title = "T") => ({ title, document: changed(document, some) });

describe("the parts that the server speaks of too", () => {
  it("takes a document apart", () => expect(partsOf(document)).toEqual(cases.parts));
  it.each(cases.changes)("$name", ({ some, gives }) => {
    expect(changes(titled(), titled(some as Parts))).toEqual(gives);
  });
});

test("what a change does not touch is the same object as before", () => {
  const after = changed(document, { "spots/spot-1/name": "x" });
  expect(after.spots[1]).toBe(document.spots[1]);
  expect(after.setup).toBe(document.setup);
  expect(after.figures).toBe(document.figures);
});

const NEW = { "spots/n/figure": "figure-1", "spots/n/name": "n" };

describe("merging", () => {
  const merged = (mine: Parts, theirs: Parts) => {
    const base = titled();
    const some = changes(base, titled(mine));
    const { parts, collisions } = merge(some, partsBefore(base, some), titled(theirs));
    return { collisions, after: titled({ ...theirs, ...parts }).document, parts };
  };
  test("different parts of the same spot", () => {
    const { collisions, after } = merged({ "spots/spot-1/name": "a" }, { "spots/spot-1/outline": [] });
    expect(collisions).toEqual([]);
    expect(after.spots[0]).toMatchObject({ name: "a", outline: [] });
  });
  test("the same change twice is no collision and nothing to send", () => {
    const { collisions, parts } = merged({ "setup/finish": "wet" }, { "setup/finish": "wet" });
    expect([collisions, parts]).toEqual([[], {}]);
  });
  test("the same part to something else collides", () => {
    const { collisions, after } = merged({ light: { from_deg: 1 } }, { light: { from_deg: 2 } });
    expect(collisions).toEqual(["light"]);
    expect(after.light).toEqual({ from_deg: 1 });
  });
  test("both put in a spot", () => {
    const { collisions, after } = merged(
      { spots: ["spot-1", "spot-2", "n"], ...NEW },
      { spots: ["m", "spot-1", "spot-2"], "spots/m/name": "m" },
    );
    expect(collisions).toEqual([]);
    expect(after.spots.map((spot) => spot.id)).toEqual(["m", "spot-1", "spot-2", "n"]);
  });
  test("one takes out, the other puts in", () => {
    const { collisions, after } = merged({ spots: ["spot-2"] }, { spots: ["spot-1", "spot-2", "n"], ...NEW });
    expect(collisions).toEqual([]);
    expect(after.spots.map((spot) => spot.id)).toEqual(["spot-2", "n"]);
  });
  test("I take out what they changed", () => {
    expect(merged({ spots: ["spot-2"] }, { "spots/spot-1/name": "a" }).collisions).toEqual(["spots/spot-1"]);
  });
  test("they took out what I changed: mine brings it back whole", () => {
    const { collisions, after } = merged({ "spots/spot-1/name": "a" }, { spots: ["spot-2"] });
    expect(collisions).toEqual(["spots/spot-1/name"]);
    expect(after.spots.find((spot) => spot.id === "spot-1")).toEqual({ ...document.spots[0], name: "a" });
  });
  test("my order stays among what both have", () => {
    const { after } = merged({ spots: ["spot-2", "spot-1"] }, { spots: ["spot-1", "spot-2", "n"], ...NEW });
    expect(after.spots.map((spot) => spot.id)).toEqual(["spot-2", "spot-1", "n"]);
  });
  test("the title counts too", () => {
    const base = titled();
    const some = { title: "mine" };
    expect(merge(some, partsBefore(base, some), titled({}, "theirs")).collisions).toEqual(["title"]);
  });
});

describe("in words", () => {
  it.each([
    [{ "spots/spot-1/recipe": { passes: [] } }, "the recipe of brow"],
    [{ "spots/spot-1/x": 0.3, "spots/spot-2/x": 0.3 }, "where it lies: brow, where it lies: chin"],
    [{ "setup/finish": "wet", light: { from_deg: 3 } }, "the set-up, the light"],
    [{ spots: ["spot-2"] }, "1 spot taken out"],
    [{ spots: ["spot-1", "spot-2", "n"], ...NEW }, "1 spot put in"],
    [{ spots: ["spot-2", "spot-1"] }, "the order of the spots"],
    [{}, ""],
  ])("%j", (some, words) => expect(inWords(titled(), titled(some))).toBe(words));
  test("two states side by side", () => {
    expect(differences(titled({ "spots/spot-1/name": "left" }), titled({ "setup/finish": "wet" }))).toEqual([
      { name: "finish of the set-up", mine: "layer", theirs: "wet" },
      { name: "name of spot 1", mine: "left", theirs: "brow" },
    ]);
  });
});
