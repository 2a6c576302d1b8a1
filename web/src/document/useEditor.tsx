import {
  createContext,
  type ReactNode,
  useCallback,
  useContext,
  useEffect,
  useMemo,
  useRef,
  useState,
  useSyncExternalStore,
} from "react";
import { type Piece, type SeenSpot, seenSpots, server } from "../api/client";
import { type Draft, Drafts, type OldDraft } from "./drafts";
import { Editor } from "./editor";
import type { State } from "./state";

const Held = createContext<Editor | null>(null);

let leaving: Promise<unknown> = Promise.resolve();

/** Settles when everything that was being saved as a piece was left has been answered. */
export const savesDone = (): Promise<unknown> => leaving;

/** Everything needed to begin: the piece as the server has it, and what this tab has kept of it. */
export type Loaded = { piece: Piece; tab: string; draft: Draft | null; oldDraft: OldDraft | null };

/** Holds a piece while it is edited. */
export function PieceProvider({ loaded, children }: { loaded: Loaded; children: ReactNode }) {
  const [editor] = useState(() => {
    const { piece, tab, draft, oldDraft } = loaded;
    return new Editor(piece, server.editing, new Drafts(piece.id, tab), draft, oldDraft);
  });
  useEffect(() => {
    const leave = (event: BeforeUnloadEvent) => {
      if (editor.isUnsaved()) event.preventDefault();
    };
    window.addEventListener("beforeunload", leave);
    window.addEventListener("online", editor.retry);
    return () => {
      window.removeEventListener("beforeunload", leave);
      window.removeEventListener("online", editor.retry);
      leaving = editor.flush();
    };
  }, [editor]);
  return <Held.Provider value={editor}>{children}</Held.Provider>;
}

/** The editor of the piece: everything that can be done to it. */
export function useEditor(): Editor {
  const editor = useContext(Held);
  if (!editor) throw new Error("useEditor outside PieceProvider");
  return editor;
}

/** A part of what the editor says; renders only where that part changes. */
export function useEditing<T>(select: (state: State) => T): T {
  const editor = useEditor();
  const chosen = useRef(select);
  chosen.current = select;
  const read = useCallback(() => chosen.current(editor.getState()), [editor]);
  return useSyncExternalStore(editor.subscribe, read);
}

/** The piece as the artist sees it. */
export const usePiece = (): Piece => useEditing((state) => state.piece);

export const useDocument = (): Piece["document"] => useEditing((state) => state.piece.document);

/** The spots, each with what was worked out about it. */
export function useSpots(): SeenSpot[] {
  const document = useDocument();
  const found = useEditing((state) => state.piece.found);
  return useMemo(() => seenSpots({ document, found }), [document, found]);
}
