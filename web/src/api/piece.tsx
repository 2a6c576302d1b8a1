import {
  createContext,
  type ReactNode,
  useCallback,
  useContext,
  useEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import {
  type Piece,
  type PieceDocument,
  Refusal,
  type SeenSpot,
  type Spot,
  seenSpots,
  server,
  type WorkChanges,
} from "./client";

export type SaveState = "saved" | "unsaved" | "saving" | "offline" | "unkept" | "conflict" | "refused";

type Draft = { version: number; title: string; document: PieceDocument };

export type PieceEditor = {
  piece: Piece;
  /** Its spots, each with what was worked out about it. */
  spots: SeenSpot[];
  state: SaveState;
  problem: string;
  busy: boolean;
  edit: (change: (document: PieceDocument) => PieceDocument) => void;
  editSpot: (id: string, change: Partial<Spot>) => void;
  rename: (title: string) => void;
  /** Ticks and notes; they are no part of what can be undone. */
  note: (changes: WorkChanges) => void;
  undo: () => void;
  redo: () => void;
  /** Fresh recipes for these spots, or for all; what is kept stays. */
  solve: (spots: string[]) => void;
  /** How many of the spots have been mixed so far. */
  progress: { done: number; total: number } | null;
  /** Ends the mixing; what is mixed by then is kept. */
  stop: () => void;
  dismiss: () => void;
  keepMine: () => void;
  takeTheirs: () => void;
};

const Editor = createContext<PieceEditor | null>(null);
const SAVE_AFTER_MS = 350;
const RETRY_AFTER_MS = 3000;
const AT_ONCE = 6;

let lastSave: Promise<unknown> = Promise.resolve();

/** Settles when everything that was being saved has been answered. */
export const savesDone = (): Promise<unknown> => lastSave;

export function usePiece(): PieceEditor {
  const editor = useContext(Editor);
  if (!editor) throw new Error("usePiece outside PieceProvider");
  return editor;
}

const draftKey = (id: string) => `caltin.draft.${id}`;

function readDraft(id: string): Draft | null {
  try {
    return JSON.parse(localStorage.getItem(draftKey(id)) ?? "null") as Draft | null;
  } catch {
    return null;
  }
}

function keepDraft(id: string, draft: Draft | null): void {
  try {
    if (draft) localStorage.setItem(draftKey(id), JSON.stringify(draft));
    else localStorage.removeItem(draftKey(id));
  } catch {
    // A full or forbidden storage only costs the safety net; the server still gets every change.
  }
}

/** Holds a piece while it is edited: saves by itself, survives a lost connection, notices other windows. */
export function PieceProvider({ loaded, children }: { loaded: Piece; children: ReactNode }) {
  const [piece, setPiece] = useState(loaded);
  const [state, setState] = useState<SaveState>("saved");
  const [problem, setProblem] = useState("");
  const [busy, setBusy] = useState(false);
  const [theirs, setTheirs] = useState<Piece | null>(null);
  const [progress, setProgress] = useState<PieceEditor["progress"]>(null);
  const stopped = useRef(false);

  const now = useRef(loaded);
  const edits = useRef(0);
  const savedEdits = useRef(0);
  const queue = useRef<Promise<unknown>>(Promise.resolve());
  const timer = useRef<number | undefined>(undefined);
  const halted = useRef(false);
  /** What the artist did while the server worked on an undo or on recipes: done again on its answer. */
  const meanwhile = useRef<((piece: Piece) => Piece)[]>([]);

  const show = useCallback((next: Piece) => {
    now.current = next;
    setPiece(next);
  }, []);

  const settle = useCallback(
    (answer: Piece, upTo: number) => {
      savedEdits.current = upTo;
      if (edits.current === upTo) {
        keepDraft(answer.id, null);
        show(answer);
        setState("saved");
        setProblem("");
      } else {
        show({ ...now.current, version: answer.version });
        setState("unsaved");
      }
    },
    [show],
  );

  const fail = useCallback((error: unknown, again: () => void) => {
    if (!(error instanceof Refusal)) throw error;
    if (error.status === 409 && error.current) {
      halted.current = true;
      setTheirs(error.current);
      setState("conflict");
    } else if (error.status === 0 || error.status === 429 || error.status >= 500) {
      // From 500 on the server is there, but cannot keep anything; it says why.
      setState(error.status >= 500 ? "unkept" : "offline");
      setProblem(error.message);
      timer.current = window.setTimeout(again, RETRY_AFTER_MS);
    } else {
      setState("refused");
      setProblem(error.message);
    }
  }, []);

  const save = useCallback((): Promise<unknown> => {
    window.clearTimeout(timer.current);
    queue.current = queue.current.then(async () => {
      const upTo = edits.current;
      if (upTo === savedEdits.current || halted.current) return;
      setState("saving");
      const { id, version, title, document } = now.current;
      try {
        settle(await server.savePiece(id, version, title, document), upTo);
      } catch (error) {
        fail(error, () => void save());
        return;
      }
      if (edits.current !== upTo) timer.current = window.setTimeout(() => void save(), SAVE_AFTER_MS);
    });
    lastSave = queue.current;
    return queue.current;
  }, [settle, fail]);

  const note = useCallback(
    (changes: WorkChanges) => {
      waiting.current = { ...waiting.current, ...merged(waiting.current, changes) };
      keepWork(now.current.id, waiting.current);
      show({ ...now.current, work: noted(now.current.work, changes) });
      void sendWork.current();
    },
    [show],
  );

  const change = useCallback(
    (step: (piece: Piece) => Piece) => {
      const next = step(now.current);
      meanwhile.current.push(step);
      show(next);
      edits.current += 1;
      keepDraft(next.id, { version: next.version, title: next.title, document: next.document });
      setState((before) => (before === "conflict" ? before : "unsaved"));
      window.clearTimeout(timer.current);
      timer.current = window.setTimeout(() => void save(), SAVE_AFTER_MS);
    },
    [show, save],
  );

  const ask = useCallback(
    (request: (id: string, version: number) => Promise<Piece>) => {
      setBusy(true);
      void save().then(() => {
        queue.current = queue.current.then(async () => {
          if (halted.current || edits.current !== savedEdits.current) return setBusy(false);
          const upTo = edits.current;
          meanwhile.current = [];
          try {
            const answer = await request(now.current.id, now.current.version);
            if (edits.current !== upTo) show(meanwhile.current.reduce((piece, step) => step(piece), answer));
            settle(answer, upTo);
          } catch (error) {
            fail(error, () => void save());
          } finally {
            setBusy(false);
          }
        });
      });
    },
    [save, settle, fail, show],
  );

  const mix = useCallback(async (wanted: string[], id: string, version: number): Promise<Piece> => {
    const able = seenSpots(now.current).filter((spot) => spot.reading && !spot.locked);
    const ids = able.map((spot) => spot.id).filter((spot) => wanted.length === 0 || wanted.includes(spot));
    // With nothing to mix, or only one spot, the server says at once what there is to say.
    if (ids.length < 2) return server.solve(id, version, wanted);
    stopped.current = false;
    try {
      let done = 0;
      while (done < ids.length && !stopped.current) {
        setProgress({ done, total: ids.length });
        await server.prepare(id, ids.slice(done, done + AT_ONCE));
        done = Math.min(ids.length, done + AT_ONCE);
      }
      return await server.solve(id, version, ids.slice(0, done));
    } finally {
      setProgress(null);
    }
  }, []);

  useEffect(() => {
    const draft = readDraft(loaded.id);
    if (draft && draft.document.schema !== loaded.document.schema) {
      // Kept by an older page: the server knows how to read it, this page does not. Whatever was saved since stays
      // in the history below it.
      const upTo = edits.current;
      queue.current = queue.current
        .then(() => server.savePiece(loaded.id, loaded.version, draft.title, draft.document))
        .then((answer) => settle(answer, upTo))
        .catch((error) => fail(error, () => window.location.reload()));
    } else if (draft && draft.version === loaded.version)
      change((piece) => ({ ...piece, title: draft.title, document: draft.document }));
    else if (draft) {
      // The piece moved on while this change could not be saved: let the artist choose.
      show({ ...loaded, version: draft.version, title: draft.title, document: draft.document });
      edits.current += 1;
      halted.current = true;
      setTheirs(loaded);
      setState("conflict");
    }
    const leave = (event: BeforeUnloadEvent) => {
      if (edits.current !== savedEdits.current) event.preventDefault();
    };
    const back = () => void save();
    window.addEventListener("beforeunload", leave);
    window.addEventListener("online", back);
    return () => {
      window.removeEventListener("beforeunload", leave);
      window.removeEventListener("online", back);
      void save();
    };
  }, [loaded, change, save, show, settle, fail]);

  const editor = useMemo<PieceEditor>(() => {
    const edit: PieceEditor["edit"] = (change_) =>
      change((piece) => ({ ...piece, document: change_(piece.document) }));
    return {
      piece,
      spots: seenSpots(piece),
      state,
      problem,
      busy,
      edit,
      editSpot: (id, part) =>
        edit((document) => ({
          ...document,
          spots: document.spots.map((spot) => (spot.id === id ? { ...spot, ...part } : spot)),
        })),
      rename: (title) => change((piece) => ({ ...piece, title })),
      note,
      undo: () => ask(server.undo),
      redo: () => ask(server.redo),
      solve: (spots) => ask((id, version) => mix(spots, id, version)),
      progress,
      stop: () => {
        stopped.current = true;
      },
      dismiss: () => {
        // What the server refused cannot be kept: go back to what it holds.
        keepDraft(now.current.id, null);
        savedEdits.current = edits.current;
        void server.piece(now.current.id).then((held) => settle(held, edits.current));
      },
      keepMine: () => {
        if (!theirs) return;
        halted.current = false;
        setTheirs(null);
        change((piece) => ({ ...piece, version: theirs.version }));
      },
      takeTheirs: () => {
        if (!theirs) return;
        halted.current = false;
        setTheirs(null);
        settle(theirs, edits.current);
      },
    };
  }, [piece, state, problem, busy, theirs, progress, change, ask, mix, settle, note]);

  return <Editor.Provider value={editor}>{children}</Editor.Provider>;
}
