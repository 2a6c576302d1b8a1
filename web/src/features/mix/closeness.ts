/** A distance in ΔE00 in words, as an eye tells it. */
export function closeness(distance: number): string {
  if (distance < 1) return "so close that none can tell";
  if (distance < 2.5) return "very close";
  if (distance < 5) return "just visibly off";
  return "clearly off";
}
