import type { Curve, PracticeKind, PracticeSource } from "../../api/practice";

export const KIND: Record<PracticeKind, string> = {
  value: "how light",
  hue: "warmer or cooler",
  chroma: "stronger or duller",
  stick: "which comes nearest",
  layer: "the next layer",
  ramp: "five steps by hand",
};
export const ON: Record<PracticeSource, string> = {
  references: "my references",
  "study head": "the study head",
  patches: "bare patches",
};
export const ASKED: Record<PracticeKind, string> = {
  value: "How light is it?",
  hue: "Is the left one warmer or cooler than the right one?",
  chroma: "Is the left one stronger or duller than the right one?",
  stick: "Which of these comes nearest?",
  layer: "Which layer comes next?",
  ramp: "",
};

/** A curve in a sentence, for who does not see it. */
export function inWords(curve: Curve, name: string): string {
  const first = curve.weeks[0];
  const last = curve.weeks.at(-1);
  if (!first || !last) return `${name}: nothing yet`;
  const unit = curve.unit;
  if (first === last) return `${name}: off by ${first.off.toFixed(1)} ${unit} in one week`;
  return `${name}: off by ${first.off.toFixed(1)} ${unit} at first, ${last.off.toFixed(1)} ${unit} now`;
}
