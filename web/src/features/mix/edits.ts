import type { Role, Schemas } from "../../api/client";
import { type Layer, type Level, layersOf, PRESSURES } from "../../document/layers";

type Document = Schemas["Document"];

const SHADE: Role[] = ["half-shadow", "shadow", "deep accent", "reflected light"];
const MOST_TIMES = 3;

/** A figure's layers with what lies over that figure alone: so they are sent as they are to be. */
export function ownLayers(document: Document, figure: string): Layer[] {
  const mine = new Set(document.spots.filter((spot) => spot.figure === figure).map((spot) => spot.id));
  return layersOf(document, figure).map((layer) => ({
    ...layer,
    levels: Object.fromEntries(Object.entries(layer.levels).filter(([spot]) => mine.has(spot))),
  }));
}

/**
 * A layer with what its map has at the places, if there is one: what a hand lays there. One that is kept lies as it was
 * set, also while maps are made anew.
 */
export const byMap = (layer: Layer, maps: Schemas["LayerMap"][]): Layer => {
  if (layer.locked) return layer;
  const here = maps.find((row) => row.layer === layer.id)?.levels ?? {};
  return Object.values(here).some(Boolean) ? { ...layer, levels: { ...layer.levels, ...here } } : layer;
};

const changed = (layers: Layer[], id: string, change: (layer: Layer) => Layer) =>
  layers.map((layer) => (layer.id === id ? change(layer) : layer));

/** What a hand has set stays as it is when the rest is planned anew. */
const byHand = (layer: Layer, level: (held: Level) => Level): Layer => ({
  ...layer,
  locked: true,
  levels: Object.fromEntries(Object.entries(layer.levels).map(([spot, held]) => [spot, held && level(held)])),
});

const clamped = (at: number, most: number) => Math.min(most, Math.max(0, at));

/** Everywhere one step harder (1) or softer (−1). */
export const harder = (layers: Layer[], id: string, by: number): Layer[] =>
  changed(layers, id, (layer) =>
    byHand(layer, (held) => ({
      ...held,
      pressure:
        PRESSURES[clamped(PRESSURES.indexOf(held.pressure) + by, PRESSURES.length - 1)] ?? held.pressure,
    })),
  );

/** Everywhere once more (1) or less (−1). */
export const oftener = (layers: Layer[], id: string, by: number): Layer[] =>
  changed(layers, id, (layer) =>
    byHand(layer, (held) => ({ ...held, repeats: clamped(held.repeats - 1 + by, MOST_TIMES - 1) + 1 })),
  );

export const locked = (layers: Layer[], id: string, as: boolean): Layer[] =>
  changed(layers, id, (layer) => ({ ...layer, locked: as }));

export const without = (layers: Layer[], id: string): Layer[] => layers.filter((layer) => layer.id !== id);

/** So many places later (1 …) or earlier (−1 …) in the order of work. */
export function moved(layers: Layer[], id: string, by: number): Layer[] {
  const from = layers.findIndex((layer) => layer.id === id);
  const to = clamped(from + by, layers.length - 1);
  const rest = without(layers, id);
  const layer = layers[from];
  return layer ? [...rest.slice(0, to), layer, ...rest.slice(to)] : layers;
}

/** The dose of which a layer has most, and its softest. */
function dosesOf(layer: Layer): { usual: Level; soft: Level } {
  const held = Object.values(layer.levels).filter((level) => level !== null);
  const weight = (level: Level) => PRESSURES.indexOf(level.pressure) * 10 + level.repeats;
  const sorted = [...held].sort((a, b) => weight(a) - weight(b));
  const light = { pressure: "light", repeats: 1, flicked: false };
  return { usual: sorted[Math.floor(sorted.length / 2)] ?? light, soft: sorted[0] ?? light };
}

/**
 * Places under a brush: those in its middle get what the layer has most, those at its edge its softest; or they are
 * taken away. under: by spot, 0 in the middle of the brush and 1 at its edge.
 */
export const brushed = (layers: Layer[], id: string, under: Record<string, number>, add: boolean): Layer[] =>
  changed(layers, id, (layer) => {
    const { usual, soft } = dosesOf(layer);
    const levels = { ...layer.levels };
    for (const [spot, far] of Object.entries(under)) {
      if (!add) levels[spot] = null;
      else levels[spot] ??= far > 0.6 ? soft : usual;
    }
    return { ...layer, levels, locked: true };
  });

/** The dose of a layer at one spot; null for none. */
export const setAt = (layers: Layer[], id: string, spot: string, level: Level | null): Layer[] =>
  changed(layers, id, (layer) => ({ ...layer, levels: { ...layer.levels, [spot]: level }, locked: true }));

/** Whether a layer can be split: it lies in light and in shade. */
export function canSplit(document: Document, layer: Layer): boolean {
  const roles = document.spots
    .filter((spot) => layer.levels[spot.id])
    .map((spot) => SHADE.includes(spot.role));
  return roles.includes(true) && roles.includes(false);
}

/** One layer as two, one in the light and one in the shade, so that each can go its own way. */
export function split(document: Document, layers: Layer[], id: string): Layer[] {
  const shade = new Set(document.spots.filter((spot) => SHADE.includes(spot.role)).map((spot) => spot.id));
  return layers.flatMap((layer) => {
    if (layer.id !== id) return [layer];
    const part = (inShade: boolean) =>
      Object.fromEntries(
        Object.entries(layer.levels).map(([spot, held]) => [spot, shade.has(spot) === inShade ? held : null]),
      );
    const other = { ...layer, id: crypto.randomUUID().replaceAll("-", "").slice(0, 12) };
    return [
      { ...layer, levels: part(true), locked: true },
      { ...other, levels: part(false), locked: true },
    ];
  });
}
