import { type LongWork, type Piece, type PieceChange, type PieceDocument, Refusal } from "../api/client";
import { changed, changes } from "./parts";
import type { Server } from "./state";

export const spot = (id: string, more: object = {}) => ({
  id,
  figure: "f",
  name: id,
  place: "cheek",
  role: "middle",
  x: 0.5,
  y: 0.5,
  radius: 0.01,
  outline: null,
  recipe: null,
  locked: false,
  ...more,
});

export const DOCUMENT = {
  schema: 9,
  setup: { finish: "layer" },
  tray: null,
  picture: "p",
  balance: null,
  light: null,
  format: {},
  grid: null,
  cross: null,
  marks: [],
  unit: null,
  figures: [{ id: "f", name: "Mairen", face: null, strokes: [] }],
  spots: [spot("a"), spot("b"), spot("c")],
  surroundings: [],
  layers: [],
} as unknown as PieceDocument;

/** A generator of whole numbers: a linear congruential one (Numerical Recipes, 2nd ed., 7.1). */
export function chance(seed: number): (below: number) => number {
  let state = seed >>> 0;
  return (below) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return Math.floor((state / 2 ** 32) * below);
  };
}

const found = (document: PieceDocument) => ({
  spots: Object.fromEntries(
    document.spots.map(({ id, x }) => [id, { reading: { x }, temperature: null, beyond: "", outcome: null }]),
  ),
  reach: null,
  placement: null,
  measured: [],
});

/** A server that keeps versions, a history and keys, and can fail in every way a real one can. */
export class Fake {
  version = 1;
  title = "T";
  history = [DOCUMENT];
  at = 0;
  work = { done: {} as Record<string, string>, notes: {} as Record<string, string> };
  keys = new Set<string>();
  asked: string[] = [];
  /** What happens to the next requests: refused before, or done and the answer lost. */
  next: ("before" | "after" | Refusal)[] = [];
  gate: Promise<unknown> = Promise.resolve();
  watch: (work: LongWork) => void = () => {};

  get document() {
    return this.history[this.at] as PieceDocument;
  }

  piece = (): Piece =>
    ({
      id: "p",
      title: this.title,
      version: this.version,
      changed: "",
      can_undo: this.at > 0,
      can_redo: this.at < this.history.length - 1,
      document: this.document,
      work: this.work,
      found: found(this.document),
      keys: { found: `v${this.version}` },
      troubles: [],
      picture: null,
    }) as unknown as Piece;

  put(document: PieceDocument, title = this.title) {
    this.title = title;
    if (document !== this.document) {
      this.history = [...this.history.slice(0, this.at + 1), document];
      this.at += 1;
    }
    this.version += 1;
  }

  private answer(sent: PieceDocument): PieceChange {
    const { document, found: all, id: _, work: __, ...head } = this.piece();
    const parts = changes({ title: "", document: sent }, { title: "", document });
    return {
      ...head,
      document: parts,
      spots: all.spots,
      reach: null,
      placement: null,
      measured: null,
    } as PieceChange;
  }

  private async write(name: string, body: { version: number; key?: string }, doIt: () => PieceDocument) {
    this.asked.push(name);
    await this.gate;
    const fate = this.next.shift();
    if (fate instanceof Refusal) throw fate;
    if (fate === "before") throw new Refusal(0, []);
    let sent = this.document;
    if (!this.keys.has(body.key ?? "")) {
      if (body.version !== this.version)
        throw new Refusal(409, [{ code: "stale_version", message: "", hint: "", field: "" }], this.piece());
      sent = doIt();
      this.keys.add(body.key ?? "");
    } else sent = {} as PieceDocument;
    if (fate === "after") throw new Refusal(0, []);
    return this.answer(sent);
  }

  server: Server = {
    piece: async () => {
      const now = this.piece();
      await this.gate;
      return now;
    },
    change: (_, body) =>
      this.write("change", body as { version: number }, () => {
        const document = changed(this.document, body.changes);
        this.put(Object.keys(body.changes).length ? document : this.document, body.title ?? this.title);
        return document;
      }),
    put: async (_, __, { title, document }) => {
      this.asked.push("put");
      this.put(document as PieceDocument, title);
      return this.piece();
    },
    undo: (_, body) => this.write("undo", body, () => this.step(-1)),
    redo: (_, body) => this.write("redo", body, () => this.step(1)),
    plan: (_, body, watch) => {
      this.watch = watch;
      return this.write(`plan ${body.figures?.join()} ${body.layers}`, body, () => {
        const before = this.document;
        const layer = { id: "l", stick: "G01", levels: {}, technique: "lay", locked: false };
        this.put({ ...before, layers: [layer] });
        return before;
      });
    },
    take: (_, body) =>
      this.write(`take ${body.figure}`, body, () => {
        const before = this.document;
        this.put({ ...before, layers: [...body.layers] as PieceDocument["layers"] });
        return before;
      }),
    work: async (_, passes) => {
      this.asked.push("work");
      await this.gate;
      const fate = this.next.shift();
      if (fate instanceof Refusal) throw fate;
      for (const [id, { state }] of Object.entries(passes)) this.work.done[id] = state ?? "";
      if (fate) throw new Refusal(0, []);
    },
  };

  private step(by: number) {
    const before = this.document;
    this.at += by;
    this.version += 1;
    return before;
  }
}
