import type { Stick } from "../api/client";
import { useMaterials } from "../api/queries";

/**
 * What some sticks are called: by their medium where they are all of one, and only in a mixed kit a stick. none: of
 * which medium they are where none is given.
 */
export function useNoun(sticks: readonly Pick<Stick, "medium">[], none = ""): string {
  const media = useMaterials().data?.media ?? [];
  const found = new Set(sticks.map((stick) => stick.medium));
  const only = found.size === 0 ? none : found.size === 1 ? [...found][0] : "";
  return media.find((row) => row.id === only)?.word ?? "stick";
}
