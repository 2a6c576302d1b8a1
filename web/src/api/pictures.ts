import type { Piece } from "./client";

/** The address of a sheet in a photograph, squared up. */
export const squaredUrl = (picture: string, corners: [number, number][]): string =>
  `/api/pictures/${picture}/squared?corners=${corners
    .flat()
    .map((part) => part.toFixed(4))
    .join(",")}`;

export const toothUrl = (paper: string): string => `/api/papers/${paper}/tooth`;

/** Longer sides in pixels in which the server shows pictures. */
const SIZES = [600, 750, 900, 1200, 1500, 1800];

/** The address of a picture from here, for a place whose longer side takes this many pixels of the page. */
export function sized(url: string, longest: number): string {
  const size = SIZES.find((candidate) => candidate >= longest * window.devicePixelRatio) ?? 1800;
  return `${url}${url.includes("?") ? "&" : "?"}size=${size}`;
}

export const pictureUrl = (id: string): string => `/api/pictures/${id}`;

/** The address of a way of seeing a piece's reference. */
export function viewUrl(
  piece: Piece,
  kind: string,
  amount: number,
  borders: boolean,
  balanced: boolean,
): string {
  const asked = new URLSearchParams({ kind, key: piece.keys.look });
  if (amount) asked.set("amount", String(amount));
  if (borders) asked.set("borders", "1");
  if (balanced) asked.set("balanced", "1");
  return `/api/pieces/${piece.id}/view?${asked}`;
}

/** The address of the reference after the first layers, by these maps. key: of the layers as they are. */
export function layeredUrl(
  piece: Piece,
  maps: string[],
  upto: number,
  size: number,
  values: boolean,
): string {
  const asked = new URLSearchParams({ upto: String(upto), size: String(size), key: piece.keys.maps });
  if (values) asked.set("values", "1");
  for (const name of maps) asked.append("maps", name);
  return `/api/pieces/${piece.id}/layers/picture?${asked}`;
}

/** Longer sides in pixels of the maps that the server draws. */
const MAP_SIZES = { small: "320", usual: "960", large: "1920" };

/** The address of the map of a layer. */
export function layerMapUrl(
  piece: Piece,
  maps: string[],
  layer: string,
  size: keyof typeof MAP_SIZES = "usual",
): string {
  const asked = new URLSearchParams({ layer, size: MAP_SIZES[size], key: piece.keys.maps });
  for (const name of maps) asked.append("maps", name);
  return `/api/pieces/${piece.id}/layers/map?${asked}`;
}

/** The address of a figure with the colours that a plan gives at its spots. */
export function sketchUrl(piece: Piece, figure: string, gives: Record<string, string>): string {
  const asked = new URLSearchParams({ figure, key: piece.keys.study });
  for (const [spot, hex] of Object.entries(gives)) asked.append("gives", `${spot}.${hex.slice(1)}`);
  return `/api/pieces/${piece.id}/layers/sketch?${asked}`;
}
