import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { Refusal } from "../api/client";
import type { Draft } from "./drafts";
import { Editor, RETRY_AFTER_MS, SAVE_AFTER_MS } from "./editor";
import { DOCUMENT, Fake, spot } from "./editor.fake";
import { changed } from "./parts";
import type { State } from "./state";

const PUT_IN = Object.fromEntries(
  Object.entries(spot("d")).flatMap(([field, part]) => (field === "id" ? [] : [[`spots/d/${field}`, part]])),
);

let fake: Fake;
let kept: Draft | null;
const keeper = {
  keep: (draft: Draft | null) => {
    kept = draft && structuredClone(draft);
  },
  forgetOld: vi.fn(),
};
const open = (draft: Draft | null = null) => new Editor(fake.piece(), fake.server, keeper, draft);
const name = (editor: { getState(): State }, i = 0) => editor.getState().piece.document.spots[i]?.name;
const status = (editor: Editor) => editor.getState().status;
const refusal = (code: number, message = "No.", problem = "no") =>
  new Refusal(code, [{ code: problem, message, hint: "", field: "" }]);
/** The next answers wait until this is called. */
const held = () => {
  let go = () => {};
  fake.gate = new Promise<void>((done) => {
    go = done;
  });
  return go;
};
const pass = (ms = SAVE_AFTER_MS) => vi.advanceTimersByTimeAsync(ms);

beforeEach(() => {
  vi.useFakeTimers();
  fake = new Fake();
  kept = null;
});
afterEach(() => void vi.useRealTimers());

describe("saving", () => {
  test("edits wait for more, then go as one, and only what changed", async () => {
    const editor = open();
    for (const letter of "xyz") editor.editSpot("a", { name: letter });
    expect(status(editor)).toBe("unsaved");
    expect(kept?.parts).toEqual({ "spots/a/name": "z" });
    await pass();
    expect(fake.asked).toEqual(["change"]);
    expect(fake.history).toHaveLength(2);
    expect([status(editor), name(editor), kept]).toEqual(["saved", "z", null]);
  });
  test("an edit that comes to nothing is not sent", async () => {
    const editor = open();
    editor.editSpot("a", { name: "x" });
    editor.editSpot("a", { name: "a" });
    await pass();
    expect([fake.asked, status(editor), kept]).toEqual([[], "saved", null]);
  });
  test("what is done while a save is under way lies upon its answer and is sent next", async () => {
    const editor = open();
    const go = held();
    editor.editSpot("a", { name: "x" });
    await pass();
    expect(status(editor)).toBe("saving");
    editor.editSpot("b", { name: "y" });
    go();
    await pass();
    expect([name(editor), name(editor, 1), status(editor)]).toEqual(["x", "y", "saved"]);
    expect(fake.document.spots.map((row) => row.name)).toEqual(["x", "y", "c"]);
  });
  test("a new title makes no step in the history", async () => {
    const editor = open();
    editor.rename("New");
    await pass();
    expect([fake.title, fake.history.length, editor.getState().piece.title]).toEqual(["New", 1, "New"]);
  });
  test("leaving sends at once", async () => {
    const editor = open();
    editor.editSpot("a", { name: "x" });
    expect(editor.isUnsaved()).toBe(true);
    await editor.flush();
    expect([fake.document.spots[0]?.name, editor.isUnsaved()]).toEqual(["x", false]);
  });
});

describe("trouble on the way", () => {
  test("without a connection work is kept and goes when it is back", async () => {
    const editor = open();
    fake.next = ["before", "before"];
    editor.editSpot("a", { name: "x" });
    await pass();
    expect([status(editor), kept?.sent?.parts]).toEqual(["offline", { "spots/a/name": "x" }]);
    editor.editSpot("a", { name: "xy" });
    editor.retry();
    await pass(0);
    expect(status(editor)).toBe("offline");
    await pass(RETRY_AFTER_MS);
    expect([status(editor), name(editor), fake.document.spots[0]?.name]).toEqual(["saved", "xy", "xy"]);
  });
  test("a lost answer is no conflict and writes nothing twice", async () => {
    const editor = open();
    fake.next = ["after"];
    editor.editSpot("a", { name: "x" });
    await pass();
    editor.editSpot("b", { name: "y" });
    await pass(RETRY_AFTER_MS);
    expect([status(editor), name(editor), name(editor, 1)]).toEqual(["saved", "x", "y"]);
    expect(fake.history).toHaveLength(3);
  });
  test("a server that can keep nothing says why", async () => {
    const editor = open();
    fake.next = [refusal(507, "The disk is full.")];
    editor.editSpot("a", { name: "x" });
    await pass();
    expect([status(editor), editor.getState().problem]).toEqual(["unkept", "The disk is full."]);
    await pass(RETRY_AFTER_MS);
    expect(status(editor)).toBe("saved");
  });
  test("an ended session waits for the artist and then goes on", async () => {
    const editor = open();
    fake.next = [refusal(403, "You are not signed in.", "sign_in")];
    editor.editSpot("a", { name: "x" });
    await pass();
    expect(status(editor)).toBe("signed-out");
    editor.editSpot("b", { name: "y" });
    await pass(10 * RETRY_AFTER_MS);
    expect([fake.asked.length, kept !== null]).toEqual([1, true]);
    editor.retry();
    await pass();
    expect([status(editor), fake.document.spots[0]?.name, fake.document.spots[1]?.name]).toEqual([
      "saved",
      "x",
      "y",
    ]);
  });
  test("what the server will never take is named, and what it holds comes back", async () => {
    const editor = open();
    fake.next = [refusal(422, "A spot lies outside.")];
    editor.editSpot("a", { name: "x" });
    await pass();
    expect([status(editor), editor.getState().problem]).toEqual(["refused", "A spot lies outside."]);
    await editor.dismiss();
    expect([status(editor), name(editor), kept]).toEqual(["saved", "a", null]);
  });
});

describe("undo, redo and mixing", () => {
  test("what was done is saved first, and it says what it did", async () => {
    const editor = open();
    editor.editSpot("a", { name: "x" });
    editor.undo();
    expect(editor.getState().busy).toBe(true);
    await pass(0);
    expect(fake.asked).toEqual(["change", "undo"]);
    expect([name(editor), editor.getState().said, editor.getState().busy]).toEqual([
      "a",
      "Undone: the name of x.",
      false,
    ]);
    editor.redo();
    await pass(0);
    expect([name(editor), editor.getState().said]).toEqual(["x", "Redone: the name of a."]);
    editor.hush();
    expect(editor.getState().said).toBe("");
  });
  test("an undo pressed without a connection is done when it is back, once", async () => {
    fake.put(changed(DOCUMENT, { "spots/a/name": "x" }));
    fake.put(changed(fake.document, { "spots/a/name": "y" }));
    const editor = open();
    fake.next = ["before", "after"];
    editor.undo();
    await pass(0);
    expect(status(editor)).toBe("offline");
    await pass(2 * RETRY_AFTER_MS);
    expect([status(editor), name(editor), fake.at]).toEqual(["saved", "x", 1]);
  });
  test("what is done meanwhile lies upon the answer", async () => {
    const editor = open();
    const go = held();
    const layer = { id: "l", stick: "G02", levels: { a: null }, technique: "lay", locked: true };
    editor.take("f", [layer]);
    await pass(0);
    expect(editor.getState().busy).toBe(true);
    editor.editSpot("b", { name: "y" });
    go();
    await pass();
    expect(fake.document.spots[1]).toMatchObject({ name: "y" });
    expect(fake.document.layers).toEqual([layer]);
    expect([status(editor), editor.getState().busy]).toEqual(["saved", false]);
  });
  test("what is worked out anew is read in its turn: an answer of before never covers an undo", async () => {
    fake.put(changed(DOCUMENT, { "spots/a/name": "x" }));
    const editor = open();
    const go = held();
    void editor.refresh();
    await pass(0);
    // Only that answer is slow.
    fake.gate = Promise.resolve();
    editor.undo();
    await pass(0);
    go();
    await pass();
    expect([name(editor), status(editor)]).toEqual(["a", "saved"]);
    fake.next = [refusal(500)];
    editor.editSpot("c", { name: "z" });
    void editor.refresh();
    await pass();
    expect(status(editor)).toBe("unkept");
    await pass(RETRY_AFTER_MS);
    expect([name(editor, 2), status(editor)]).toEqual(["z", "saved"]);
  });
  test("a plan in layers is asked for once, and what is done meanwhile lies upon it", async () => {
    const editor = open();
    fake.next = ["after"];
    editor.plan(["f"], 5);
    await pass(0);
    expect(status(editor)).toBe("offline");
    editor.editSpot("a", { name: "y" });
    await pass(RETRY_AFTER_MS + SAVE_AFTER_MS);
    expect(fake.asked.filter((what) => what === "plan f 5")).toHaveLength(2);
    expect(fake.document.layers).toHaveLength(1);
    expect([status(editor), name(editor), editor.getState().busy]).toEqual(["saved", "y", false]);
  });
  test("a spot taken out while an undo takes another one back", async () => {
    fake.put(changed(DOCUMENT, { spots: ["a", "b", "c", "d"], ...PUT_IN }));
    const editor = open();
    const go = held();
    editor.undo();
    await pass(0);
    editor.edit((held) => ({ ...held, spots: held.spots.slice(1) }));
    go();
    await pass();
    expect(fake.document.spots.map((row) => row.id)).toEqual(["b", "c"]);
    expect(status(editor)).toBe("saved");
  });
  test("a planning says how far it is, and can be stopped", async () => {
    const editor = open();
    const go = held();
    editor.plan(["f"], 0);
    await pass(0);
    fake.watch({ done: 2, total: 8, stop: () => fake.next.push(refusal(410, "Stopped.")) });
    expect(editor.getState().planning).toMatchObject({ done: 2, total: 8 });
    editor.getState().planning?.stop();
    go();
    await pass(0);
    const { planning, busy, said } = editor.getState();
    expect([planning, busy, said, fake.document.layers]).toEqual([null, false, "Stopped.", []]);
  });
  test("a plan that cannot be is no lost save", async () => {
    const editor = open();
    fake.next = [refusal(422, "No tray is chosen.")];
    editor.plan(["f"], 0);
    await pass(0);
    expect([status(editor), editor.getState().said, editor.getState().busy]).toEqual([
      "saved",
      "No tray is chosen.",
      false,
    ]);
    editor.editSpot("a", { name: "x" });
    await pass();
    expect(fake.document.spots[0]?.name).toBe("x");
  });
});

describe("two tabs", () => {
  const theirs = (some: object, title?: string) => fake.put(changed(fake.document, some as never), title);
  test("different parts merge without a question", async () => {
    const editor = open();
    theirs({ "spots/b/name": "theirs", "setup/finish": "wet" });
    editor.editSpot("a", { name: "mine" });
    await pass();
    expect(status(editor)).toBe("saved");
    expect(fake.document.spots.map((row) => row.name)).toEqual(["mine", "theirs", "c"]);
    expect(editor.getState().piece.document.setup.finish).toBe("wet");
  });
  test("a true collision shows both; keeping mine leaves theirs below it", async () => {
    const editor = open();
    theirs({ "spots/a/name": "theirs" });
    editor.editSpot("a", { name: "mine" });
    await pass();
    expect([status(editor), name(editor), editor.getState().theirs?.document.spots[0]?.name]).toEqual([
      "conflict",
      "mine",
      "theirs",
    ]);
    expect(kept).not.toBeNull();
    editor.keepMine();
    await pass();
    expect(fake.history.map((row) => row.spots[0]?.name)).toEqual(["a", "theirs", "mine"]);
    expect([status(editor), name(editor)]).toEqual(["saved", "mine"]);
  });
  test("taking theirs puts mine into the history first", async () => {
    const editor = open();
    theirs({ "spots/a/name": "theirs" });
    editor.editSpot("a", { name: "mine" });
    editor.editSpot("c", { name: "mine too" });
    await pass();
    editor.takeTheirs();
    expect(name(editor)).toBe("theirs");
    await pass();
    expect(fake.history.map((row) => row.spots[0]?.name)).toEqual(["a", "theirs", "mine", "theirs"]);
    expect([status(editor), name(editor), name(editor, 2)]).toEqual(["saved", "theirs", "c"]);
    editor.undo();
    await pass(0);
    expect([name(editor), name(editor, 2)]).toEqual(["mine", "mine too"]);
  });
  test("taking theirs takes what it has become meanwhile, and what I did since", async () => {
    const editor = open();
    theirs({ "spots/a/name": "theirs" });
    editor.editSpot("a", { name: "mine" });
    await pass();
    theirs({ "spots/a/name": "theirs again" });
    editor.takeTheirs();
    editor.editSpot("b", { name: "since" });
    await pass();
    expect(fake.history.map((row) => row.spots[0]?.name).slice(2)).toEqual([
      "theirs again",
      "mine",
      "theirs again",
    ]);
    expect([status(editor), name(editor), name(editor, 1)]).toEqual(["saved", "theirs again", "since"]);
  });
  test("an undo meets another tab's edit and is done upon it", async () => {
    theirs({ "spots/a/name": "x" });
    const editor = open();
    theirs({ "spots/b/name": "y" });
    editor.undo();
    await pass(0);
    expect([name(editor), name(editor, 1), fake.at]).toEqual(["x", "b", 1]);
  });
  test("what is done during the question is kept too", async () => {
    const editor = open();
    theirs({ "spots/a/name": "theirs" });
    editor.editSpot("a", { name: "mine" });
    await pass();
    editor.keepMine();
    editor.editSpot("b", { name: "later" });
    await pass();
    expect(fake.document.spots.map((row) => row.name)).toEqual(["mine", "later", "c"]);
  });
});

describe("ticks", () => {
  test("are sent beside the history, and only those", async () => {
    const editor = open();
    editor.note({ p1: { state: "done" } });
    editor.note({ p1: { state: "" }, p2: { state: "done", note: " hm " } });
    expect(editor.getState().piece.work).toEqual({ done: { p2: "done" }, notes: { p2: "hm" } });
    await pass();
    expect([fake.asked, fake.work.done, status(editor), kept]).toEqual([
      ["work"],
      { p1: "", p2: "done" },
      "saved",
      null,
    ]);
  });
  test("survive a lost connection and a reload", async () => {
    fake.next = [refusal(0), refusal(0)];
    open().note({ p1: { state: "done" } });
    await pass();
    expect(kept?.work).toEqual({ p1: { state: "done" } });
    const editor = open(kept);
    expect(editor.getState().piece.work.done).toEqual({ p1: "done" });
    await pass(2 * RETRY_AFTER_MS);
    expect([fake.work.done, status(editor)]).toEqual([{ p1: "done" }, "saved"]);
  });
  test("an undo leaves them alone", async () => {
    fake.put(changed(DOCUMENT, { "spots/a/name": "x" }));
    const editor = open();
    editor.note({ p1: { state: "done" } });
    editor.undo();
    await pass(0);
    expect([fake.asked, editor.getState().piece.work.done]).toEqual([["work", "undo"], { p1: "done" }]);
  });
});

describe("a reload", () => {
  test("goes on with what was never sent", async () => {
    fake.next = ["before"];
    open().editSpot("a", { name: "x" });
    const editor = open(kept);
    expect(name(editor)).toBe("x");
    await pass(RETRY_AFTER_MS);
    expect([fake.document.spots[0]?.name, status(editor), kept]).toEqual(["x", "saved", null]);
  });
  test("while saving finds out whether it was written", async () => {
    const before = open();
    fake.next = ["after"];
    before.editSpot("a", { name: "x" });
    await pass();
    before.editSpot("b", { name: "y" });
    const draft = kept;
    const editor = open(draft);
    expect([name(editor), name(editor, 1)]).toEqual(["x", "y"]);
    await editor.flush();
    expect([status(editor), name(editor), name(editor, 1)]).toEqual(["saved", "x", "y"]);
    expect(fake.history.map((row) => row.spots[0]?.name)).toEqual(["a", "x", "x"]);
  });
  test("of a change that another tab has overtaken merges", async () => {
    fake.next = ["before"];
    open().editSpot("a", { name: "mine" });
    await pass();
    fake.put(changed(fake.document, { "spots/b/name": "theirs" }));
    const editor = open(kept);
    await editor.flush();
    expect(fake.document.spots.map((row) => row.name)).toEqual(["mine", "theirs", "c"]);
  });
  test("of a change that collides asks", async () => {
    open().editSpot("a", { name: "mine" });
    fake.put(changed(fake.document, { "spots/a/name": "theirs" }));
    const editor = open(kept);
    await pass();
    expect(status(editor)).toBe("conflict");
    editor.takeTheirs();
    await pass();
    expect(fake.history.map((row) => row.spots[0]?.name)).toEqual(["a", "theirs", "mine", "theirs"]);
  });
  test("during the question asks again", async () => {
    const first = open();
    fake.put(changed(fake.document, { "spots/a/name": "theirs" }));
    first.editSpot("a", { name: "mine" });
    await pass();
    const editor = open(kept);
    await pass();
    expect([status(editor), name(editor)]).toEqual(["conflict", "mine"]);
    editor.keepMine();
    await pass();
    expect(fake.document.spots[0]?.name).toBe("mine");
  });
  test("brings a draft of a version before to the server as it is", async () => {
    const old = { title: "Old", document: { ...DOCUMENT, schema: 4 } };
    const editor = new Editor(fake.piece(), fake.server, keeper, null, old);
    await pass(0);
    expect([fake.asked, fake.title, status(editor)]).toEqual([["put"], "Old", "saved"]);
    expect(keeper.forgetOld).toHaveBeenCalled();
  });
});

test("listeners hear of every state, and no longer once they left", async () => {
  const editor = open();
  const heard = vi.fn();
  const leave = editor.subscribe(heard);
  editor.rename("x");
  const calls = heard.mock.calls.length;
  expect(calls).toBeGreaterThan(0);
  leave();
  editor.rename("y");
  expect(heard.mock.calls.length).toBe(calls);
  await pass();
});
