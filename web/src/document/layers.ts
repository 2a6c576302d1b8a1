import type { Schemas } from "../api/client";

export type Layer = Schemas["PlannedLayer"];
export type Level = Schemas["Level"];

export const TOOLS = ["stump", "putty", "blade"];
export const PRESSURES = ["light", "medium", "heavy"];
const TIMES = ["", "once", "twice", "three times"];
const COATS = ["", "one coat", "two coats", "three coats"];
const NUMBERS = "no one two three four five six seven eight nine ten eleven twelve".split(" ");

/** A small number in words, with what is counted. */
export const counted = (n: number, one: string) => `${NUMBERS[n] ?? n} ${one}${n === 1 ? "" : "s"}`;

/** How a layer is laid, in words. */
export function inWords({ pressure, repeats, flicked }: Level, technique: string, inked: boolean): string {
  if (technique === "burnish") return "burnish";
  if (technique === "smudge") return "rub together";
  const wet = technique === "wet" ? ", worked in wet" : "";
  if (inked) return `${flicked ? "flicked, " : ""}${COATS[repeats]}${wet}`;
  return `${pressure}, ${TIMES[repeats]}`;
}

/** The layers that lie over a figure, in working order. */
export function layersOf(document: Schemas["Document"], figure: string): Layer[] {
  const mine = new Set(document.spots.filter((spot) => spot.figure === figure).map((spot) => spot.id));
  return document.layers.filter((layer) =>
    Object.entries(layer.levels).some(([spot, level]) => level && mine.has(spot)),
  );
}
