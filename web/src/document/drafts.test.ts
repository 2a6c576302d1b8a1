import { beforeEach, describe, expect, test, vi } from "vitest";
import { type Draft, Drafts } from "./drafts";

/** A storage as browsers have it: what is kept in it are its own keys. */
const METHODS = {
  getItem(this: Record<string, string>, name: string) {
    return Object.hasOwn(this, name) ? this[name] : null;
  },
  setItem(this: Record<string, string>, name: string, text: string) {
    this[name] = text;
  },
  removeItem(this: Record<string, string>, name: string) {
    delete this[name];
  },
};

const draft = (title: string, at = Date.now()): Draft => ({
  schema: 9,
  version: 3,
  sent: null,
  parts: { title },
  was: { title: "before" },
  work: { done: [], undone: [] } as unknown as Draft["work"],
  at,
});

let storage: Storage;

/** Tabs that are alive, where the browser can tell. */
function alive(...tabs: string[]) {
  const held = tabs.map((tab) => ({ name: `caltin.tab.${tab}` }));
  vi.stubGlobal("navigator", { locks: { query: async () => ({ held }) } });
}

beforeEach(() => {
  storage = Object.create(METHODS) as Storage;
  vi.stubGlobal("localStorage", storage);
  vi.stubGlobal("navigator", {});
});

describe("what a tab could not bring to the server", () => {
  test("is there again after a reload, and gone once it was brought", async () => {
    const mine = new Drafts("piece", "one");
    const kept = draft("mine");
    mine.keep(kept);
    expect(await new Drafts("piece", "one").take()).toEqual(kept);
    mine.keep(null);
    expect(await mine.take()).toBeNull();
    expect(Object.keys(storage)).toEqual([]);
  });

  test("is not another piece's, even if its name begins alike", async () => {
    new Drafts("piece", "one").keep(draft("mine"));
    alive();
    expect(await new Drafts("piece2", "one").take()).toBeNull();
    expect(await new Drafts("pie", "one").take()).toBeNull();
    expect(await new Drafts("piece", "one").take()).not.toBeNull();
  });

  test("is taken over from a tab that is gone, once, and never from one that lives", async () => {
    new Drafts("piece", "old").keep(draft("left behind"));
    alive("old", "new");
    expect(await new Drafts("piece", "new").take()).toBeNull();
    alive("new");
    expect((await new Drafts("piece", "new").take())?.parts).toEqual({ title: "left behind" });
    // From now on it is this tab's own, and a third finds nothing.
    expect(Object.keys(storage)).toEqual(["caltin.draft.piece.new"]);
    expect(await new Drafts("piece", "third").take()).toBeNull();
  });

  test("of its own comes before what another left", async () => {
    new Drafts("piece", "old").keep(draft("left behind"));
    new Drafts("piece", "new").keep(draft("mine"));
    alive("new");
    expect((await new Drafts("piece", "new").take())?.parts).toEqual({ title: "mine" });
    expect(Object.keys(storage)).toHaveLength(2);
  });

  test("of a quiet tab is taken over where nobody can tell which tabs live", async () => {
    new Drafts("piece", "busy").keep(draft("just now"));
    expect(await new Drafts("piece", "new").take()).toBeNull();
    new Drafts("piece", "quiet").keep(draft("long ago", Date.now() - 6 * 60 * 1000));
    expect((await new Drafts("piece", "new").take())?.parts).toEqual({ title: "long ago" });
    expect(Object.keys(storage).sort()).toEqual(["caltin.draft.piece.busy", "caltin.draft.piece.new"]);
  });

  test("that nobody can read is no draft, and a full storage stops nobody", async () => {
    storage.setItem("caltin.draft.piece.one", "{half");
    storage.setItem("caltin.draft.piece.gone", "{half");
    alive();
    const mine = new Drafts("piece", "one");
    expect(await mine.take()).toBeNull();
    expect(Object.keys(storage)).toEqual([]);
    vi.stubGlobal("localStorage", {
      setItem: () => {
        throw new DOMException("full", "QuotaExceededError");
      },
    });
    expect(() => mine.keep(draft("mine"))).not.toThrow();
  });

  test("as old versions kept it is found and forgotten", () => {
    storage.setItem("caltin.draft.piece", JSON.stringify({ title: "old", document: {} }));
    const mine = new Drafts("piece", "one");
    expect(mine.old()).toEqual({ title: "old", document: {} });
    mine.forgetOld();
    expect(mine.old()).toBeNull();
  });
});
