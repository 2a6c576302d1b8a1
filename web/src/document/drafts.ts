import type { WorkChanges } from "../api/client";
import type { Parts } from "./parts";

/** Changes on their way to the server. key: the same one again writes nothing more. was: what the parts were before. */
export type Sent = { key: string; version: number; parts: Parts; was: Parts };

/** What a tab could not yet bring to the server. sent: what was on its way; parts: all of it, from what `was` before. */
export type Draft = {
  schema: number;
  version: number;
  sent: Sent | null;
  parts: Parts;
  was: Parts;
  work: WorkChanges;
  at: number;
};

/** A draft as versions before 0.6 kept it: one for all tabs. */
export type OldDraft = { title: string; document: unknown };

const PREFIX = "caltin.draft.";
const TAB = "caltin.tab";
const QUIET_MS = 5 * 60 * 1000;

const oldName = (piece: string) => `${PREFIX}${piece}`;
const nameOf = (piece: string, tab: string) => `${PREFIX}${piece}.${tab}`;
const lockOf = (tab: string) => `${TAB}.${tab}`;

function parsed<T>(text: string | null): T | null {
  try {
    return JSON.parse(text ?? "null") as T | null;
  } catch {
    return null;
  }
}

/** Holds a name for as long as the tab lives. Whether it was free. */
const held = (name: string): Promise<boolean> =>
  new Promise((said) => {
    void navigator.locks.request(name, { ifAvailable: true }, (lock) => {
      said(lock !== null);
      return lock ? new Promise(() => {}) : undefined;
    });
  });

let mine: Promise<string> | undefined;

/** The name of this tab; it outlives a reload, and a copied tab gets another one. */
export function thisTab(): Promise<string> {
  mine ??= (async () => {
    let tab = sessionStorage.getItem(TAB) ?? crypto.randomUUID().slice(0, 8);
    if (navigator.locks) while (!(await held(lockOf(tab)))) tab = crypto.randomUUID().slice(0, 8);
    sessionStorage.setItem(TAB, tab);
    return tab;
  })();
  return mine;
}

/** What of a piece this tab has not brought to the server; or what a tab that is gone has left behind. */
export class Drafts {
  constructor(
    private readonly piece: string,
    private readonly tab: string,
  ) {}

  /** Raises nothing: a full or forbidden storage only costs the safety net; the server still gets every change. */
  keep(draft: Draft | null): void {
    try {
      if (draft) localStorage.setItem(nameOf(this.piece, this.tab), JSON.stringify(draft));
      else localStorage.removeItem(nameOf(this.piece, this.tab));
    } catch {
      // See above.
    }
  }

  /** The draft to go on with. */
  async take(): Promise<Draft | null> {
    const own = parsed<Draft>(localStorage.getItem(nameOf(this.piece, this.tab)));
    if (own) return own;
    const names = Object.keys(localStorage).filter((name) => name.startsWith(`${oldName(this.piece)}.`));
    const alive = new Set((await navigator.locks?.query())?.held?.map((lock) => lock.name));
    for (const name of names) {
      const draft = parsed<Draft>(localStorage.getItem(name));
      const gone = navigator.locks
        ? !alive.has(lockOf(name.slice(oldName(this.piece).length + 1)))
        : draft !== null && Date.now() - draft.at > QUIET_MS;
      if (!gone) continue;
      localStorage.removeItem(name);
      if (draft) {
        this.keep(draft);
        return draft;
      }
    }
    return null;
  }

  /** The draft that a version before 0.6 left. */
  old(): OldDraft | null {
    return parsed<OldDraft>(localStorage.getItem(oldName(this.piece)));
  }

  forgetOld(): void {
    localStorage.removeItem(oldName(this.piece));
  }
}
