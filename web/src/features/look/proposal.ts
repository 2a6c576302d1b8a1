import type { Suggestion } from "../../api/client";

/** Whether skin is painted in or out, and how broadly. */
export type Painting = { add: boolean; radius: number } | null;
/** Proposed spots, and those that were left out. */
export type Proposal = Suggestion & { dropped: Set<number> };
