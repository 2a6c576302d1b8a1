import type { LongWork, Piece, PieceChange, PieceDocument, Schemas, Work, WorkChanges } from "../api/client";
import type { OldDraft } from "./drafts";
import { changed, type Titled } from "./parts";

/**
 * offline: the server does not answer; unkept: it does, but can keep nothing now; signed-out: it no longer knows who
 * asks. In all three the work is kept here and goes on. conflict: the same was changed elsewhere, and the artist is
 * asked; refused: the server will never take what was done.
 */
export type Status =
  | "saved"
  | "unsaved"
  | "saving"
  | "offline"
  | "unkept"
  | "signed-out"
  | "conflict"
  | "refused";

export type Step =
  | { kind: "undo" }
  | { kind: "redo" }
  | { kind: "plan"; figures: string[]; layers: number }
  | { kind: "take"; figure: string; layers: PieceDocument["layers"] };

export type State = {
  /** As the artist sees it: what the server holds with everything done since. */
  piece: Piece;
  status: Status;
  /** Why, where the status needs a reason. */
  problem: string;
  /** Whether an undo, a redo or a planning waits or is under way. */
  busy: boolean;
  /** How far a planning is; nothing where that is not known. */
  planning: LongWork | null;
  /** What an undo or redo did, or why something that only asks could not be done. */
  said: string;
  /** The other state, while the artist is asked. */
  theirs: Piece | null;
};

export type Server = {
  change(id: string, body: Schemas["ChangePieceRequest"]): Promise<PieceChange>;
  put(id: string, version: number, draft: OldDraft): Promise<Piece>;
  undo(id: string, body: Schemas["PieceVersionRequest"]): Promise<PieceChange>;
  redo(id: string, body: Schemas["PieceVersionRequest"]): Promise<PieceChange>;
  plan(id: string, body: Schemas["PlanLayersRequest"], watch: (work: LongWork) => void): Promise<PieceChange>;
  take(id: string, body: Schemas["TakeLayersRequest"]): Promise<PieceChange>;
  work(id: string, passes: WorkChanges): Promise<unknown>;
  piece(id: string): Promise<Piece>;
};

/** The work with these changes in it. */
export function noted(work: Work, passes: WorkChanges): Work {
  if (Object.keys(passes).length === 0) return work;
  const [done, notes] = [{ ...work.done }, { ...work.notes }];
  for (const [id, { state, note }] of Object.entries(passes)) {
    if (state) done[id] = state;
    else if (state === "") delete done[id];
    if (note?.trim()) notes[id] = note.trim();
    else if (typeof note === "string") delete notes[id];
  }
  return { done, notes };
}

/** The piece that an answer makes of what was known before it and of what was sent. */
export function answered(before: Piece, sent: Titled, answer: PieceChange): Piece {
  const { document: parts, spots, reach, placement, measured, ...head } = answer;
  const document = changed(sent.document, parts);
  const found = Object.fromEntries(
    document.spots.map(({ id }) => [id, { ...before.found.spots[id], ...spots[id] }]),
  ) as Piece["found"]["spots"];
  return {
    ...before,
    ...head,
    document,
    found: { spots: found, reach, placement, measured: measured ?? before.found.measured },
  };
}
