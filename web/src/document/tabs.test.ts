import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { type PieceDocument, Refusal } from "../api/client";
import type { Draft } from "./drafts";
import { Editor } from "./editor";
import { chance, Fake, spot } from "./editor.fake";
import type { Server } from "./state";

/** Two tabs with one piece and everything that can happen to them, by chance, the same every time. */

const GROUPS = 8;
const RUNS = 20;
const STEPS = 40;
const SPOT_FIELDS = Object.keys(spot("x")).sort();

/** A tab that can be reloaded: what it has under way is then never answered, and what it kept goes on. */
class Tab {
  editor: Editor;
  kept: Draft | null = null;
  /** What was typed last in the name of each spot. */
  typed = new Map<string, string>();
  private alive = { yes: true };

  constructor(
    private readonly fake: Fake,
    readonly who: string,
  ) {
    this.editor = this.opened(null);
  }

  private opened(draft: Draft | null): Editor {
    const life = { yes: true };
    this.alive = life;
    const server = Object.fromEntries(
      Object.entries(this.fake.server).map(([name, ask]) => [
        name,
        async (...rest: unknown[]) => {
          if (!life.yes) return new Promise(() => {});
          const done = (ask as (...all: unknown[]) => Promise<unknown>)(...rest);
          await done.catch(() => {});
          return life.yes ? done : new Promise(() => {});
        },
      ]),
    ) as unknown as Server;
    const keeper = {
      keep: (held: Draft | null) => {
        if (life.yes) this.kept = held && structuredClone(held);
      },
      forgetOld: () => {},
    };
    return new Editor(this.fake.piece(), server, keeper, draft);
  }

  reload() {
    this.alive.yes = false;
    this.editor = this.opened(this.kept);
  }

  /** What is given up goes into the history where it can; it is not asked for here. */
  decide(mine: boolean) {
    if (mine) this.editor.keepMine();
    else {
      this.editor.takeTheirs();
      this.typed.clear();
    }
  }

  get spots() {
    return this.editor.getState().piece.document.spots;
  }
}

let ever: PieceDocument[];
let fake: Fake;
let tabs: Tab[];

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

function begin() {
  fake = new Fake();
  ever = [fake.document];
  const put = fake.put.bind(fake);
  fake.put = (document, title) => {
    ever.push(document);
    put(document, title);
  };
  tabs = [new Tab(fake, "one"), new Tab(fake, "two")];
}

function act(tab: Tab, pick: (below: number) => number, number: number) {
  const { editor, spots } = tab;
  if (editor.getState().status === "conflict") {
    tab.decide(pick(2) > 0);
    return;
  }
  const one = spots[pick(Math.max(1, spots.length))];
  const what = pick(10);
  if (what <= 2 && one) {
    const name = `${tab.who} ${number}`;
    editor.editSpot(one.id, { name });
    tab.typed.set(one.id, name);
  } else if (what === 3 && one) {
    tab.typed.delete(one.id);
    editor.edit((document) => ({ ...document, spots: document.spots.filter(({ id }) => id !== one.id) }));
  } else if (what === 4) {
    const more = spot(`${tab.who}-${number}`, { name: `${tab.who} ${number}` });
    editor.edit((document) => ({ ...document, spots: [...document.spots, more as never] }));
    tab.typed.set(more.id, more.name);
  } else if (what === 5) editor.rename(`${tab.who} ${number}`);
  else if (what === 6) editor.note({ [`pass-${pick(3)}`]: { state: "done" } } as never);
  else if (what === 7) tab.reload();
  else if (what === 8)
    fake.next.push(["before" as const, "after" as const, new Refusal(503, [])][pick(3)] ?? "before");
  else editor.retry();
}

async function settled() {
  fake.next = [];
  for (let round = 0; round < 30; round++) {
    await vi.advanceTimersByTimeAsync(5000);
    for (const tab of tabs) if (tab.editor.getState().status === "conflict") tab.decide(round % 2 > 0);
    if (tabs.every(({ editor }) => !editor.isUnsaved() && editor.getState().status === "saved")) break;
  }
  for (const { editor } of tabs) await editor.refresh();
}

const SEEDS = Array.from({ length: GROUPS }, (_, group) =>
  Array.from({ length: RUNS }, (_, run) => group * RUNS + run),
);

test.each(SEEDS.map((seeds) => [seeds]))(
  "whatever happens, both tabs come to what the server holds, and nothing that was typed is lost",
  async (seeds) => {
    let asked = 0;
    for (const seed of seeds) {
      const pick = chance(seed * 104729 + 7);
      begin();
      for (let number = 0; number < STEPS; number++) {
        const tab = tabs[pick(2)];
        if (tab?.editor.getState().status === "conflict") asked += 1;
        if (tab) act(tab, pick, number);
        await vi.advanceTimersByTimeAsync([0, 10, 400, 4000][pick(4)] ?? 0);
      }
      await settled();
      for (const { editor, kept } of tabs) {
        const { piece, status } = editor.getState();
        expect([seed, status, editor.isUnsaved(), kept]).toEqual([seed, "saved", false, null]);
        expect([seed, piece.title, piece.document]).toEqual([seed, fake.title, fake.document]);
      }
      for (const document of ever) {
        expect(new Set(document.spots.map(({ id }) => id)).size).toBe(document.spots.length);
        for (const row of document.spots)
          expect([seed, Object.keys(row).sort()]).toEqual([seed, SPOT_FIELDS]);
      }
      const words = new Set(
        ever.flatMap((document) => document.spots.map((row) => `${row.id}: ${row.name}`)),
      );
      const lost = tabs.flatMap(({ typed }) => [...typed].map(([id, name]) => `${id}: ${name}`));
      expect([seed, lost.filter((word) => !words.has(word))]).toEqual([seed, []]);
    }
    // Conflicts were met often.
    expect(asked).toBeGreaterThan(5);
  },
);
