import type { Face } from "../api/client";

/** How near a picture is seen, and which part of it (in fractions) lies in the middle of its place. */
export type View = { near: number; x: number; y: number };
export type Size = { w: number; h: number };

/** A head opens this high, as a part of its place; the picture fills its place where the head lets it. */
const HEAD = 0.52;
const WIDEST_HEAD = 0.8;
/** Nearer than that nothing opens; what is hardly nearer is not worth leaving the whole for. */
const [NEAREST, WORTH] = [4, 1.05];

/** The box around faces, in fractions of the picture. */
function around(faces: Face[]): Face | null {
  if (faces.length === 0) return null;
  const [x, y] = [Math.min(...faces.map((face) => face.x)), Math.min(...faces.map((face) => face.y))];
  const right = Math.max(...faces.map((face) => face.x + face.width));
  const bottom = Math.max(...faces.map((face) => face.y + face.height));
  return { x, y, width: right - x, height: bottom - y };
}

/** What a picture opens on: its faces, from near; none if the whole does as well. room: of its place; whole: of all of
 * the picture in it. */
export function openedOn(faces: Face[], room: Size, whole: Size): View | null {
  const head = around(faces);
  if (!head || room.h <= 0 || room.w <= 0) return null;
  const fills = Math.max(room.w / whole.w, room.h / whole.h);
  const near = Math.min(
    Math.max(fills, (HEAD * room.h) / (head.height * whole.h)),
    (WIDEST_HEAD * room.w) / (head.width * whole.w),
    NEAREST,
  );
  return near > WORTH ? { near, x: head.x + head.width / 2, y: head.y + head.height / 2 } : null;
}
