import { describe, expect, test } from "vitest";
import cases from "../../../tests/parts.json";
import type { PieceDocument } from "../api/client";
import { chance } from "./editor.fake";
import { changed, changes, merge, type Parts, partsBefore, partsOf, type Titled, withParts } from "./parts";

/** Documents as two tabs may leave them, by chance, the same ones every time. */

const CASES = 300;
const BASE: Titled = { title: "T", document: cases.document as unknown as PieceDocument };

/** What somebody did: spots put in, taken out, renamed and put in another order, and settings changed. */
function edited(held: Titled, pick: (below: number) => number, who: string): Titled {
  let { title, document } = held;
  for (let i = 0; i <= pick(4); i++) {
    const ids = document.spots.map((spot) => spot.id);
    const some: Parts = {};
    const [what, one] = [pick(7), ids[pick(Math.max(1, ids.length))]];
    if (what === 0) {
      const id = `${who}-${i}`;
      some.spots = [...ids.slice(0, pick(ids.length + 1)), id, ...ids];
      some.spots = [...new Set(some.spots as string[])];
      some[`spots/${id}/figure`] = "figure-1";
      some[`spots/${id}/name`] = id;
      some[`spots/${id}/outline`] = null;
    } else if (what === 1 && one) some.spots = ids.filter((id) => id !== one);
    else if (what === 2 && one) some[`spots/${one}/name`] = `${who} ${pick(3)}`;
    else if (what === 3) some.spots = [...ids].reverse();
    else if (what === 4) some["setup/finish"] = ["layer", "burnish", "wet"][pick(3)];
    else if (what === 5) some.light = pick(2) ? { from_deg: pick(3) } : null;
    else title = `${who} ${pick(2)}`;
    document = changed(document, some);
  }
  return { title, document };
}

const each = Array.from({ length: CASES }, (_, seed) => {
  const pick = chance(seed * 7919 + 1);
  return { mine: edited(BASE, pick, "mine"), theirs: edited(BASE, pick, "theirs") };
});

const names = (held: Titled) => held.document.spots.map((spot) => spot.id);

describe("whatever two tabs do", () => {
  test("what differs, put upon what was before, gives what is", () => {
    for (const { mine } of each) expect(withParts(BASE, changes(BASE, mine))).toEqual(mine);
  });
  test("every spot stands once in the merged list, with all that is said of it", () => {
    for (const { mine, theirs } of each) {
      const some = changes(BASE, mine);
      const after = withParts(theirs, merge(some, partsBefore(BASE, some), theirs).parts);
      expect(new Set(names(after)).size).toBe(names(after).length);
      for (const spot of after.document.spots)
        expect(Object.keys(spot).sort()).toEqual(["figure", "id", "name", "outline"]);
    }
  });
  test("nothing that either put in is lost, and what I took out is gone", () => {
    for (const { mine, theirs } of each) {
      const some = changes(BASE, mine);
      const after = names(withParts(theirs, merge(some, partsBefore(BASE, some), theirs).parts));
      const [was, here, there] = [names(BASE), names(mine), names(theirs)];
      for (const id of [...here, ...there]) if (!was.includes(id)) expect(after).toContain(id);
      for (const id of was) if (!here.includes(id)) expect(after).not.toContain(id);
    }
  });
  test("my own word stands in every part that I changed", () => {
    for (const { mine, theirs } of each) {
      const some = changes(BASE, mine);
      const after = withParts(theirs, merge(some, partsBefore(BASE, some), theirs).parts);
      const parts: Parts = { ...partsOf(after.document), title: after.title };
      for (const [path, part] of Object.entries(some))
        if (path !== "spots") expect(parts[path]).toEqual(part);
    }
  });
  test("what only they changed stays as they have it", () => {
    for (const { mine, theirs } of each) {
      const some = changes(BASE, mine);
      const after = withParts(theirs, merge(some, partsBefore(BASE, some), theirs).parts);
      const parts: Parts = { ...partsOf(after.document), title: after.title };
      for (const [path, part] of Object.entries(changes(BASE, theirs)))
        if (path !== "spots" && !(path in some) && path in parts) expect(parts[path]).toEqual(part);
    }
  });
  test("nobody is asked where they did not meet", () => {
    for (const { mine, theirs } of each) {
      const [some, others] = [changes(BASE, mine), changes(BASE, theirs)];
      const { collisions } = merge(some, partsBefore(BASE, some), theirs);
      const touched = [...Object.keys(some), ...Object.keys(others)];
      const gone = (held: Titled) => names(BASE).filter((id) => !names(held).includes(id));
      for (const path of collisions) {
        const both = path in some && path in others;
        const takenOut = [...gone(mine), ...gone(theirs)].some((id) => path.startsWith(`spots/${id}`));
        expect(both || takenOut).toBe(true);
        expect(touched.some((other) => other.startsWith(path.split("/").slice(0, 2).join("/")))).toBe(true);
      }
    }
  });
  test("what was merged, merged again, is nothing more to send", () => {
    for (const { mine, theirs } of each) {
      const some = changes(BASE, mine);
      const after = withParts(theirs, merge(some, partsBefore(BASE, some), theirs).parts);
      const left = changes(after, withParts(after, merge(some, partsBefore(BASE, some), after).parts));
      expect(Object.keys(left).filter((path) => path !== "spots")).toEqual([]);
      // What comes back stands last at first, and in my place from then on.
      expect([...((left.spots as string[]) ?? names(after))].sort()).toEqual(names(after).sort());
    }
  });
});
