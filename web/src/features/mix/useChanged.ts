import { useState } from "react";
import type { SeenSpot } from "../../api/client";
import { useEditing, useSpots } from "../../document/useEditor";

const usedIn = (spots: SeenSpot[]) =>
  new Set(spots.flatMap((spot) => spot.recipe?.passes.map((pass) => pass.stick) ?? []));

const mean = (spots: SeenSpot[]) => {
  const off = spots.flatMap((spot) => spot.outcome?.delta_e ?? []);
  return off.length ? (off.reduce((sum, each) => sum + each, 0) / off.length).toFixed(1) : null;
};

const laid = (spot: SeenSpot | undefined) =>
  spot?.recipe?.passes
    .map((pass) => [pass.stick, pass.pressure, pass.repeats, pass.technique].join())
    .join(";");

const count = (number: number, word: string) => `${number} ${word}${number === 1 ? "" : "s"}`;

/** What mixing anew has changed, in a sentence: call `watch` before it. */
export function useChanged(): { said: string; watch: () => void } {
  const busy = useEditing((state) => state.busy);
  const [before, setBefore] = useState<SeenSpot[] | null>(null);
  const spots = useSpots();
  const watch = () => setBefore(spots);
  if (!before || busy) return { said: "", watch };
  const others = spots.filter((spot) => laid(spot) !== laid(before.find((held) => held.id === spot.id)));
  if (others.length === 0) return { said: "", watch };
  const [had, has] = [usedIn(before), usedIn(spots)];
  const came = [...has].filter((code) => !had.has(code)).length;
  const went = [...had].filter((code) => !has.has(code)).length;
  // Recipes from another tray had no outcome that could be compared.
  const instead = mean(before) && ` instead of ${mean(before)}`;
  return {
    said:
      `${count(others.length, "recipe")} changed: ${count(came, "stick")} came in, ${count(went, "stick")} went out, ` +
      `off by ${mean(spots)} on average${instead ?? ""}.`,
    watch,
  };
}
