import {
  type Piece,
  type PieceChange,
  type PieceDocument,
  Refusal,
  type Spot,
  type WorkChanges,
} from "../api/client";
import type { Draft, OldDraft, Sent } from "./drafts";
import {
  changes,
  inWords,
  merge,
  type Parts,
  partsBefore,
  type Titled,
  withoutLists,
  withParts,
} from "./parts";
import { answered, noted, type Server, type State, type Step } from "./state";

type StepBody = { version: number; known: string; key: string };

export type Keeper = { keep(draft: Draft | null): void; forgetOld(): void };

export const SAVE_AFTER_MS = 350;
export const RETRY_AFTER_MS = 3000;

const newKey = () => crypto.randomUUID();
const isEmpty = (held: object) => Object.keys(held).length === 0;

/**
 * A piece while it is edited: saves by itself and only what changed, survives a lost connection, a lost answer, a
 * reload and an ended session, merges what other tabs do, and asks where it cannot.
 *
 * One request at a time is under way. Whatever is done meanwhile is laid upon its answer.
 */
export class Editor {
  private state: State;
  private readonly listeners = new Set<() => void>();
  /** What the server holds, as far as is known. */
  private base: Piece;
  /** Changes that are on their way, or were when the answer was lost: the same key is sent until it is answered. */
  private pending: (Sent & { upon: Titled }) | null = null;
  private readonly steps: { step: Step; key: string }[] = [];
  private work: WorkChanges = {};
  private oldDraft: OldDraft | null = null;
  /** Whether what the server works out of the piece may be other than what is held. */
  private stale = false;
  private running: Promise<void> | null = null;
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    loaded: Piece,
    private readonly server: Server,
    private readonly keeper: Keeper,
    draft: Draft | null = null,
    oldDraft: OldDraft | null = null,
  ) {
    this.base = loaded;
    this.state = {
      piece: loaded,
      status: "saved",
      problem: "",
      busy: false,
      planning: null,
      said: "",
      theirs: null,
    };
    if (draft) this.resume(draft);
    this.oldDraft = draft ? null : oldDraft;
    if (this.oldDraft) this.set({ status: "unsaved" });
    if (this.isUnsaved()) this.soon(0);
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  getState = (): State => this.state;

  edit = (change: (document: PieceDocument) => PieceDocument): void => {
    this.show({ ...this.state.piece, document: change(this.state.piece.document) });
  };

  editSpot = (id: string, part: Partial<Spot>): void =>
    this.edit((document) => ({
      ...document,
      spots: document.spots.map((spot) => (spot.id === id ? { ...spot, ...part } : spot)),
    }));

  rename = (title: string): void => this.show({ ...this.state.piece, title });

  /** Ticks and notes; they are no part of what can be undone. */
  note = (passes: WorkChanges): void => {
    const work = { ...this.work };
    for (const [id, change] of Object.entries(passes)) work[id] = { ...work[id], ...change };
    this.work = work;
    this.set({ piece: { ...this.state.piece, work: noted(this.state.piece.work, passes) } });
    this.unsaved();
  };

  undo = (): void => this.queue({ kind: "undo" });

  redo = (): void => this.queue({ kind: "redo" });

  /** These figures, or all, anew in so many layers, or in as many as are worth it (0); what is locked stays. */
  plan = (figures: string[], layers: number): void => this.queue({ kind: "plan", figures, layers });

  /** These layers over a figure, in the place of those it has. */
  take = (figure: string, layers: PieceDocument["layers"]): void =>
    this.queue({ kind: "take", figure, layers });

  hush = (): void => this.set({ said: "" });

  /** Whether something is not yet with the server. */
  isUnsaved = (): boolean =>
    this.pending !== null ||
    this.oldDraft !== null ||
    !isEmpty(this.work) ||
    this.steps.length > 0 ||
    this.differs();

  /** Tries again now: the connection is back, or somebody signed in. */
  retry = (): void => {
    if (this.state.status === "conflict" || this.state.status === "refused") return;
    if (this.state.status === "signed-out") this.set({ status: "unsaved", problem: "" });
    this.soon(0);
  };

  /** Sends what waits, without waiting any longer for more. Settles when that is answered. */
  flush = async (): Promise<void> => {
    clearTimeout(this.timer);
    await this.pump();
  };

  /** Back to what the server holds, after it has refused something for good. */
  dismiss = async (): Promise<void> => {
    this.pending = null;
    this.oldDraft = null;
    this.work = {};
    this.steps.length = 0;
    this.keeper.forgetOld();
    this.keeper.keep(null);
    this.set({ piece: this.base, status: "saved", problem: "", busy: false });
    await this.refresh();
  };

  /** What the server works out of the piece, anew: something outside it has changed. */
  refresh = async (): Promise<void> => {
    this.stale = true;
    await this.flush();
  };

  /** Mine upon the other state, which stays in the history below it. */
  keepMine = (): void => {
    const { theirs } = this.state;
    if (!theirs) return;
    const mine = this.mineUpon(theirs);
    this.base = theirs;
    this.set({ piece: { ...theirs, ...mine, work: this.state.piece.work }, theirs: null, status: "unsaved" });
    this.unsaved(0);
  };

  /** The other state; mine goes into the history below it first. */
  takeTheirs = (): void => {
    const { theirs } = this.state;
    if (!theirs) return;
    this.yielded = this.conflict;
    const mine = this.mineUpon(theirs);
    const parts = changes(theirs, mine);
    this.base = theirs;
    this.pending = {
      key: newKey(),
      version: theirs.version,
      parts,
      was: partsBefore(theirs, parts),
      upon: mine,
    };
    this.set({ piece: { ...theirs, work: this.state.piece.work }, theirs: null, status: "unsaved" });
    this.unsaved(0);
  };

  /** What was kept of this piece goes on where it was. */
  private resume(draft: Draft): void {
    this.work = draft.work;
    const work = noted(this.base.work, draft.work);
    const { parts, collisions } =
      draft.version === this.base.version
        ? { parts: draft.parts, collisions: [] }
        : merge(draft.parts, draft.was, this.base);
    if (draft.sent) {
      // Perhaps it was written, and only the answer was lost: its key tells.
      const known = draft.sent.version === this.base.version;
      const upon = known ? withParts(this.base, draft.sent.parts) : this.base;
      this.pending = { ...draft.sent, was: { ...draft.was, ...draft.sent.was }, upon };
    } else if (collisions.length > 0) {
      this.ask({ ...withParts(this.base, parts), work }, this.base, draft.was, draft.parts);
      return;
    }
    this.set({
      piece: { ...withParts(this.base, parts), work },
      status: this.pending || !isEmpty(parts) || !isEmpty(this.work) ? "unsaved" : "saved",
    });
  }

  private show(piece: Piece): void {
    // What was said of the last undo is over with the next thing that is done.
    this.set({ piece, said: "" });
    this.unsaved();
  }

  private queue(step: Step): void {
    this.steps.push({ step, key: newKey() });
    this.set({ busy: true, said: "" });
    this.soon(0);
  }

  private differs(): boolean {
    const { piece } = this.state;
    if (piece.document === this.base.document && piece.title === this.base.title) return false;
    return !isEmpty(changes(this.base, piece));
  }

  private unsaved(after = SAVE_AFTER_MS): void {
    this.keep();
    if (this.state.status === "saved" || this.state.status === "saving") this.set({ status: "unsaved" });
    if (this.state.status === "unsaved") this.soon(after);
  }

  /** Keeps what is not with the server where a reload finds it. */
  private keep(): void {
    const { piece } = this.state;
    const parts = changes(this.base, piece);
    if (isEmpty(parts) && !this.pending && isEmpty(this.work)) {
      this.keeper.keep(null);
      return;
    }
    const { upon: _, ...sent } = this.pending ?? { upon: null };
    this.keeper.keep({
      schema: piece.document.schema,
      version: this.base.version,
      sent: this.pending ? (sent as Sent) : null,
      parts,
      was: partsBefore(this.base, parts),
      work: this.work,
      at: Date.now(),
    });
  }

  private soon(ms: number): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.pump(), ms);
  }

  /** Brings one thing after the other to the server until nothing is left or nothing can be done. */
  private pump(): Promise<void> {
    this.running ??= this.sendAll().finally(() => {
      this.running = null;
    });
    return this.running;
  }

  private async sendAll(): Promise<void> {
    while (!["conflict", "refused", "signed-out"].includes(this.state.status)) {
      clearTimeout(this.timer);
      const next = this.next();
      if (!next) {
        this.settle();
        return;
      }
      try {
        await next();
      } catch (error) {
        if (!this.fail(error)) return;
      }
    }
  }

  private next(): (() => Promise<void>) | null {
    if (this.oldDraft) return this.sendOldDraft;
    if (this.pending || this.differs()) return this.sendChanges;
    if (!isEmpty(this.work)) return this.sendWork;
    if (this.steps.length > 0) return this.takeStep;
    return this.stale ? this.readAnew : null;
  }

  private settle(): void {
    this.keeper.keep(null);
    this.set({ status: "saved", problem: "", busy: false });
  }

  private readonly sendOldDraft = async (): Promise<void> => {
    const draft = this.oldDraft;
    if (!draft) return;
    this.set({ status: "saving" });
    const answer = await this.server.put(this.base.id, this.base.version, draft);
    this.oldDraft = null;
    this.keeper.forgetOld();
    this.rebase(answer);
  };

  private readonly sendChanges = async (): Promise<void> => {
    const { piece } = this.state;
    if (!this.pending) {
      const parts = changes(this.base, piece);
      const was = partsBefore(this.base, parts);
      this.pending = { key: newKey(), version: this.base.version, parts, was, upon: piece };
      this.keep();
    }
    const { key, version, parts, upon } = this.pending;
    const { title, ...rest } = parts as Parts & { title?: string };
    this.set({ status: "saving" });
    const answer = await this.server.change(this.base.id, {
      version,
      key,
      known: this.base.keys.found,
      changes: rest,
      ...(title === undefined ? {} : { title }),
    });
    this.pending = null;
    this.yielded = null;
    this.rebase(answered(this.base, upon, answer), upon);
    this.keep();
  };

  private readonly sendWork = async (): Promise<void> => {
    const sent = this.work;
    this.set({ status: "saving" });
    await this.server.work(this.base.id, sent);
    this.base = { ...this.base, work: noted(this.base.work, sent) };
    // What was noted meanwhile goes next.
    this.work = Object.fromEntries(Object.entries(this.work).filter(([id, change]) => sent[id] !== change));
    this.keep();
  };

  private readonly takeStep = async (): Promise<void> => {
    const first = this.steps[0];
    if (!first) return;
    const { step, key } = first;
    const [before, id] = [this.base, this.base.id];
    const body = { version: before.version, known: before.keys.found, key };
    const answer = await this.taken(step, id, body).finally(() => this.set({ planning: null }));
    this.steps.shift();
    const after = answered(before, before, answer);
    this.rebase(after);
    const words = inWords(before, after);
    if ((step.kind === "undo" || step.kind === "redo") && words)
      this.set({ said: `${step.kind === "undo" ? "Undone" : "Redone"}: ${words}.` });
  };

  private readonly readAnew = async (): Promise<void> => {
    this.stale = false;
    try {
      this.rebase(await this.server.piece(this.base.id));
    } catch (error) {
      // With the next attempt, unless there is no such piece.
      this.stale = !(error instanceof Refusal && error.status === 404);
      throw error;
    }
  };

  private taken(step: Step, id: string, body: StepBody): Promise<PieceChange> {
    if (step.kind === "plan")
      return this.server.plan(id, { ...body, figures: step.figures, layers: step.layers }, (planning) =>
        this.set({ planning }),
      );
    if (step.kind === "take")
      return this.server.take(id, { ...body, figure: step.figure, layers: step.layers });
    return this.server[step.kind](id, body);
  }

  /** The server holds this now; what was done upon what it was sent lies above it. */
  private rebase(now: Piece, sent: Titled = this.base): void {
    const { piece } = this.state;
    const since = changes(sent, piece);
    const { parts } = merge(since, partsBefore(sent, since), now);
    this.base = now;
    this.set({ piece: { ...withParts(now, parts), work: noted(now.work, this.work) } });
  }

  /** Whether to go on at once. */
  private fail(error: unknown): boolean {
    if (!(error instanceof Refusal)) throw error;
    const { status, current, message, problems } = error;
    if (status === 0 || status === 429 || status >= 500) {
      // From 500 on the server is there, but cannot keep anything; it says why.
      this.set({ status: status >= 500 ? "unkept" : "offline", problem: message });
      this.timer = setTimeout(() => void this.pump(), RETRY_AFTER_MS);
      return false;
    }
    if (status === 403 && problems[0]?.code === "sign_in") {
      this.set({ status: "signed-out", problem: message });
      return false;
    }
    if (status === 409 && current) return this.meet(current);
    if (!this.pending && !this.oldDraft && isEmpty(this.work)) {
      // Nothing was lost: what was asked for could not be done.
      this.steps.shift();
      this.set({ said: message, busy: this.steps.length > 0 });
      return true;
    }
    this.set({ status: "refused", problem: message });
    return false;
  }

  /** Another tab was faster: mine is laid upon its state, unless both changed the same. */
  private meet(theirs: Piece): boolean {
    const { piece } = this.state;
    if (this.oldDraft) {
      // A draft of a version before: whatever was saved since stays in the history below it.
      this.base = theirs;
      return true;
    }
    if (this.yielded) return this.yieldAgain(theirs);
    // Where an older draft was taken up again, all of it lies upon what the server held then; only what single parts
    // were when it was made tells what both have changed.
    const sent = this.pending?.version === this.base.version ? this.pending : null;
    const mine = sent ? allOf(sent, changes(sent.upon, piece)) : changes(this.base, piece);
    const was = { ...partsBefore(this.base, mine), ...(sent?.was ?? withoutLists(this.pending?.was ?? {})) };
    const { parts, collisions } = merge(mine, was, theirs);
    this.pending = null;
    if (collisions.length > 0) {
      this.ask(piece, theirs, was, mine);
      return false;
    }
    this.base = theirs;
    this.set({ piece: { ...withParts(theirs, parts), work: noted(theirs.work, this.work) } });
    this.keep();
    return true;
  }

  private conflict: { mine: Parts; was: Parts } | null = null;
  /** What was given up for the other state, until it is in the history. */
  private yielded: { mine: Parts; was: Parts } | null = null;

  /** The other state has moved on while mine went into the history before it: its latest is what was meant. */
  private yieldAgain(theirs: Piece): boolean {
    const since = changes(this.base, this.state.piece);
    const was = partsBefore(this.base, since);
    this.pending = null;
    this.conflict = this.yielded;
    this.set({ theirs });
    this.takeTheirs();
    this.set({ piece: withParts(this.state.piece, merge(since, was, theirs).parts) });
    return true;
  }

  private ask(piece: Piece, theirs: Piece, was: Parts, mine: Parts): void {
    this.conflict = { mine, was };
    this.keep();
    this.set({ piece, theirs, status: "conflict", busy: this.steps.length > 0 });
  }

  /** My title and document upon another state. */
  private mineUpon(theirs: Piece): Piece {
    const { mine, was } = this.conflict ?? { mine: {}, was: {} };
    this.conflict = null;
    return withParts(theirs, merge(mine, was, theirs).parts);
  }

  private set(part: Partial<State>): void {
    this.state = { ...this.state, ...part };
    for (const listener of this.listeners) listener();
  }
}

/** Both changes, the later ones upon the earlier. */
const allOf = (sent: Sent, later: Parts): Parts => ({ ...sent.parts, ...later });
