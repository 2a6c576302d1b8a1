import { describe, expect, test } from "vitest";
import cases from "../../../tests/parts.json";
import type { Piece } from "../api/client";
import { answered, noted } from "./state";

describe("work with changes in it", () => {
  const work = { done: { "layer-1": "done", "layer-2": "skipped" }, notes: { "layer-1": "softly" } } as const;
  test("none give the same work", () => expect(noted(work as never, {})).toBe(work));
  test("a pass is ticked, and taken back by an empty state", () => {
    const after = noted(work as never, { "layer-2": { state: "" }, "layer-3": { state: "done" } } as never);
    expect(after.done).toEqual({ "layer-1": "done", "layer-3": "done" });
    expect(work.done["layer-2"]).toBe("skipped");
  });
  test("a note is trimmed, and an empty one goes; none said leaves it", () => {
    const said = noted(work as never, { "layer-1": { note: "  harder " } } as never);
    expect(said.notes).toEqual({ "layer-1": "harder" });
    expect(noted(work as never, { "layer-1": { note: " " } } as never).notes).toEqual({});
    expect(noted(work as never, { "layer-1": { state: "done" } } as never).notes).toEqual(work.notes);
  });
});

describe("what an answer makes of a piece", () => {
  const spots = { "spot-1": { reading: "old", outcome: "old" }, "spot-2": { reading: "kept" } };
  const before = {
    title: "T",
    version: 3,
    document: cases.document,
    found: { spots, reach: "old", placement: "old", measured: "kept" },
  } as unknown as Piece;
  const answer = (more: object) =>
    ({
      document: { "spots/spot-1/name": "left brow" },
      spots: { "spot-1": { outcome: "new" } },
      version: 4,
      reach: "new",
      placement: "new",
      measured: null,
      ...more,
    }) as never;
  test("what it says is taken, and the rest stays", () => {
    const after = answered(before, before, answer({}));
    expect(after.version).toBe(4);
    expect(after.document.spots[0]?.name).toBe("left brow");
    expect(after.found).toEqual({
      spots: { "spot-1": { reading: "old", outcome: "new" }, "spot-2": { reading: "kept" } },
      reach: "new",
      placement: "new",
      measured: "kept",
    });
  });
  test("nothing is found of spots that are no longer there, and little of new ones", () => {
    const parts = { spots: ["spot-2", "n"], "spots/n/name": "n" };
    const after = answered(before, before, answer({ document: parts, spots: { n: { reading: "new" } } }));
    expect(after.found.spots).toEqual({ "spot-2": { reading: "kept" }, n: { reading: "new" } });
  });
  test("it is put upon what was sent, not upon what was there before", () => {
    const sent = { title: "T", document: { ...before.document, light: { from_deg: 5 } } } as never;
    expect(answered(before, sent, answer({})).document.light).toEqual({ from_deg: 5 });
    expect(answered(before, sent, answer({ measured: "new" })).found.measured).toBe("new");
  });
});
