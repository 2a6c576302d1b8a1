import { describe, expect, test } from "vitest";
import type { Schemas } from "../api/client";
import { mended, sorted } from "./newStick";

type Read = Schemas["ReadStick"];

const row = (number: number, code: string, more: Partial<Read> = {}): Read => ({
  number,
  code,
  name: "ochre",
  medium: "pencil",
  hex: "#c58a3c",
  opacity: "semi",
  range: "",
  condition: "good",
  count: 1,
  note: "",
  lightfastness: "",
  binder: "",
  pigments: [],
  spectrum: [],
  guessed: [],
  wrong: [],
  ...more,
});

describe("rows of a list, and what a hand sets right about them", () => {
  test("a colour set by hand takes the place of one that was measured", () => {
    const measured = row(1, "a", { spectrum: [0.1, 0.2] });
    expect(mended(measured, { name: "other" }).spectrum).toEqual([0.1, 0.2]);
    expect(mended(measured, { hex: "#808080" }).spectrum).toEqual([]);
  });
  test("what is set by hand is neither guessed nor wrong any more", () => {
    const wrong = [
      { field: "hex", said: "no colour" },
      { field: "code", said: "twice" },
    ];
    const set = mended(row(2, "7", { guessed: ["hex", "opacity"], wrong }), { hex: "#102030" });
    expect([set.hex, set.guessed, set.wrong.map((fault) => fault.field)]).toEqual([
      "#102030",
      ["opacity"],
      ["code"],
    ]);
  });
  test("only rows with nothing wrong become sticks, and a guess is remembered as one", () => {
    const held = sorted([
      row(1, "7", { guessed: ["hex"] }),
      row(2, "8", { wrong: [{ field: "hex", said: "no colour" }] }),
      row(3, "9"),
    ]);
    expect(held.fine.map((stick) => [stick.code, stick.source])).toEqual([
      ["7", "guessed"],
      ["9", ""],
    ]);
    expect(held.rows).toHaveLength(3);
  });
  test("a number that a hand has made twice is said where it comes again", () => {
    const held = sorted([row(1, "7"), row(2, "7")]);
    expect(held.fine).toHaveLength(1);
    expect(held.rows[1]?.wrong[0]?.said).toBe("7 stands in line 1 as well.");
  });
});

test("a colour that a hand has set is noted as set by eye, or beside another stick", () => {
  const odd = row(1, "7", { hex: "", wrong: [{ field: "hex", said: "It does not say its colour." }] });
  const { fine } = sorted([
    mended(odd, { hex: "#102030", source: "picked" }),
    mended({ ...odd, number: 2, code: "8" }, { hex: "#102031", source: "like another" }),
  ]);
  expect(fine.map((stick) => stick.source)).toEqual(["picked", "like another"]);
});
