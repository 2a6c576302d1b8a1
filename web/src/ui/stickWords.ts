/** Words for what is known of a stick. */

export const CONDITIONS: Record<string, string> = {
  good: "here",
  low: "nearly gone",
  dried_out: "dried out",
  wanted: "wanted",
};

export const OPACITY: Record<string, string> = {
  transparent: "lets what is under it shine through",
  semi: "covers in part",
  opaque: "covers what is under it",
};

export const SOURCE: Record<string, string> = {
  guessed: "Its colour is guessed from its name: set it by eye when you have it in hand.",
  picked: "Its colour was set by eye.",
  "like another": "Its colour was set beside another.",
  photographed: "Its colour was read from a photograph.",
  "photographed thin":
    "Its colour was read from a photograph of a thin swatch: lay it closed and heavy to know it better.",
};

export const FEELS = ["dusty", "streaky", "hard", "speckled", "won't go dark"];

const ORDINALS = [
  "first",
  "second",
  "third",
  "fourth",
  "fifth",
  "sixth",
  "seventh",
  "eighth",
  "ninth",
  "tenth",
];

const RULES = new Intl.PluralRules("en", { type: "ordinal" });
const ENDS: Partial<Record<Intl.LDMLPluralRule, string>> = { one: "st", two: "nd", few: "rd" };

/** “third”, “21st”: which one, counted from 0. */
export const ordinal = (at: number): string =>
  ORDINALS[at] ?? `${at + 1}${ENDS[RULES.select(at + 1)] ?? "th"}`;

/** Where a stick lies in its box. */
export const whereInBox = (at: number, perRow: number): string =>
  perRow > 0
    ? `${ordinal(Math.floor(at / perRow))} row, ${ordinal(at % perRow)}`
    : `the ${ordinal(at)} of the box`;
