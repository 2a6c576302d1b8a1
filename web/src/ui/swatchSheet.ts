import type { Schemas } from "../api/client";
import type { NewStick } from "./AddSticks";

export type SeenSheet = Schemas["SeenSheet"];
export type SheetBox = Schemas["Box"];
type Read = Schemas["ReadStick"];

/** What a hand has written beside a swatch. */
export type Written = { code?: string; name?: string };
export type Named = { code: string; name: string };

/** How closed a swatch is decides what its colour says. */
export const LAID = ["closed and heavy", "thin, paper shows"] as const;
export type Laid = (typeof LAID)[number];

/** ΔE00 beyond which a reading is pointed out. */
export const UNSURE = 3.5;

/**
 * Numbers and names for swatches in their order: written by hand, of a box whose printed sheet this is, of a list, or
 * else the next free number and what the colour is.
 */
export function namesFor(
  sheet: SeenSheet,
  listed: readonly Read[],
  own: readonly Named[],
  written: ReadonlyMap<number, Written>,
): Named[] {
  const taken = new Set([...own.map((stick) => stick.code), ...listed.map((row) => row.code)]);
  const ofSheet = sheet.first === null ? [] : own.slice(sheet.first);
  let next = 1;
  const free = () => {
    while (taken.has(String(next))) next += 1;
    taken.add(String(next));
    return String(next);
  };
  return sheet.swatches.map(({ swatch }, i) => {
    const known = listed[i] ?? ofSheet[i];
    const hand = written.get(i);
    return {
      code: hand?.code ?? (known?.code || free()),
      name: hand?.name ?? (known?.name || swatch.words),
    };
  });
}

/** The sticks that swatches stand for; those that are left out are not among them. */
export function sticksOf(sheet: SeenSheet, names: readonly Named[], medium: string, laid: Laid): NewStick[] {
  return sheet.swatches.map(({ swatch }, i) => ({
    code: names[i]?.code.trim() ?? "",
    name: names[i]?.name.trim() ?? "",
    medium,
    hex: swatch.hex,
    source: laid === LAID[0] ? "photographed" : "photographed thin",
  })) as NewStick[];
}

/** A box of the size of the others around a point, kept on the sheet; `wide`: where there are none, of the width. */
export function boxAt(
  [x, y]: [number, number],
  others: readonly SheetBox[],
  wide: number,
  aspect: number,
): SheetBox {
  const middle = (sides: number[]) => sides.sort((a, b) => a - b)[Math.floor(sides.length / 2)];
  const w = middle(others.map((box) => box.right - box.left)) ?? wide;
  const h = middle(others.map((box) => box.bottom - box.top)) ?? wide * aspect;
  const left = Math.min(1 - w, Math.max(0, x - w / 2));
  const top = Math.min(1 - h, Math.max(0, y - h / 2));
  return { left, top, right: left + w, bottom: top + h };
}

/** Boxes as much larger or smaller around their middles. */
export function resized(boxes: readonly SheetBox[], by: number): SheetBox[] {
  return boxes.map(({ left, top, right, bottom }) => {
    const [x, y] = [(left + right) / 2, (top + bottom) / 2];
    const [w, h] = [((right - left) / 2) * by, ((bottom - top) / 2) * by];
    return {
      left: Math.max(0, x - w),
      top: Math.max(0, y - h),
      right: Math.min(1, x + w),
      bottom: Math.min(1, y + h),
    };
  });
}

/** What is written, where one swatch is no longer among them. */
export function withoutOne(written: ReadonlyMap<number, Written>, at: number): Map<number, Written> {
  const rest = new Map<number, Written>();
  for (const [i, hand] of written) if (i !== at) rest.set(i > at ? i - 1 : i, hand);
  return rest;
}

/** The frame between two of its corners. */
export const frameBetween = ([x, y]: [number, number], [u, v]: [number, number]): SheetBox => ({
  left: Math.min(x, u),
  top: Math.min(y, v),
  right: Math.max(x, u),
  bottom: Math.max(y, v),
});

/** Rows, how many in each, and the frame of swatches that lie row by row; most of the sheet where there are none. */
export function gridOf(boxes: readonly SheetBox[]): { rows: number; columns: number; frame: SheetBox } {
  if (!boxes.length)
    return { rows: 4, columns: 6, frame: { left: 0.05, top: 0.05, right: 0.95, bottom: 0.95 } };
  const rows: number[] = [];
  let before = Number.POSITIVE_INFINITY;
  for (const box of boxes) {
    if (box.left <= before) rows.push(0);
    rows[rows.length - 1] = (rows[rows.length - 1] ?? 0) + 1;
    before = box.left;
  }
  return {
    rows: rows.length,
    columns: Math.max(...rows),
    frame: {
      left: Math.min(...boxes.map((box) => box.left)),
      top: Math.min(...boxes.map((box) => box.top)),
      right: Math.max(...boxes.map((box) => box.right)),
      bottom: Math.max(...boxes.map((box) => box.bottom)),
    },
  };
}
