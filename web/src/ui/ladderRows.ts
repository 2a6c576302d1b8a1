import type { Role, SeenSpot } from "../api/client";

/** A row of a value ladder: a spot, or one in the middle of those that are folded into it. */
export type LadderRow = { key: string; spot: SeenSpot; words: string; folded: number };

/** How light a spot is wanted; what is not read yet stands at the foot. */
export const wanted = (spot: SeenSpot) => spot.reading?.swatch.value ?? 0;

/** The spots from light to dark; where they are too many, those of one role are one row until one of it is picked. */
export function rowsOf(spots: SeenSpot[], most: number, selected: string | null): LadderRow[] {
  const sorted = [...spots].sort((a, b) => wanted(b) - wanted(a));
  const single = (spot: SeenSpot): LadderRow => ({ key: spot.id, spot, words: spot.name, folded: 0 });
  if (sorted.length <= most) return sorted.map(single);
  const open = sorted.find((spot) => spot.id === selected)?.role;
  const seen = new Set<Role>();
  const folded = sorted.flatMap((spot) => {
    if (spot.role === open) return [single(spot)];
    if (seen.has(spot.role)) return [];
    seen.add(spot.role);
    const its = sorted.filter((held) => held.role === spot.role);
    const middle = its[Math.floor(its.length / 2)] ?? spot;
    return [{ key: spot.role, spot: middle, words: `${spot.role} (${its.length})`, folded: its.length }];
  });
  const at = Math.max(0, folded.findIndex((row) => row.spot.id === selected) - Math.floor(most / 2));
  return folded.length <= most ? folded : folded.slice(Math.min(at, folded.length - most)).slice(0, most);
}

/** Rows keep their order and a distance, as near to their own height as that allows. */
export function spread(heights: number[], gap: number, low: number, high: number): number[] {
  const placed = [...heights];
  for (let i = 1; i < placed.length; i++) placed[i] = Math.max(placed[i] ?? 0, (placed[i - 1] ?? 0) + gap);
  let ceiling = high;
  for (let i = placed.length - 1; i >= 0; i--) {
    placed[i] = Math.max(low + i * gap, Math.min(placed[i] ?? 0, ceiling));
    ceiling = (placed[i] ?? 0) - gap;
  }
  return placed;
}

/** The words that have room, whole ones if there are any. */
export function short(words: string, most: number): string {
  if (words.length <= most) return words;
  const cut = words.slice(0, most);
  const end = cut.lastIndexOf(" ");
  return `${cut.slice(0, end > 0 ? end : most - 1)} …`;
}
