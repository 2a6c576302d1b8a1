import { describe, expect, it } from "vitest";
import { shownUrl, type Taken, takenWords } from "./files";

const NOTHING: Taken = {
  pieces: [],
  trays: [],
  papers: 0,
  methods: 0,
  cards: 0,
  complexions: 0,
  practised: 0,
  said: [],
};

describe("what was taken in", () => {
  it("is counted, and what was left out is said after it", () => {
    const taken = {
      ...NOTHING,
      pieces: [{ id: "a", title: "A" }],
      practised: 192,
      said: ["x was not understood."],
    };
    expect(takenWords(taken)).toEqual([
      "Taken in: 1 piece, 192 answers of practice.",
      "x was not understood.",
    ]);
  });
  it("says so when all of it was here", () => {
    expect(takenWords(NOTHING)).toEqual(["All of it was here already."]);
  });
});

describe("addresses of files", () => {
  it("name what is wanted", () => {
    expect(shownUrl("p", "maps", "svg", "layer 1")).toBe(
      "/api/pieces/p/layers/pictures?what=maps&kind=svg&layer=layer+1",
    );
  });
});
