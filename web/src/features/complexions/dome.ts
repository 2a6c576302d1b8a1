/** The dome around the head, seen a little from above: how directions lie on the stage. */

const TILT = (15 * Math.PI) / 180;

export type Dome = { x: number; y: number; radius: number };
type Point = { x: number; y: number; near: number };

/** Where a direction lies: azimuth to the right and height, in degrees. near: above 0 on the side of who looks. */
export function place({ x, y, radius }: Dome, azimuth: number, height: number): Point {
  const a = (azimuth * Math.PI) / 180;
  const h = (height * Math.PI) / 180;
  const right = radius * Math.cos(h) * Math.sin(a);
  const near = radius * Math.cos(h) * Math.cos(a);
  const up = radius * Math.sin(h);
  return {
    x: x + right,
    y: y - (up * Math.cos(TILT) - near * Math.sin(TILT)),
    near: near * Math.cos(TILT) + up * Math.sin(TILT),
  };
}

/** A curve of directions as SVG paths: its near and its far parts. */
export function curve(dome: Dome, at: (share: number) => [number, number], steps = 72): [string, string] {
  const paths: [string, string] = ["", ""];
  let before = -1;
  for (let i = 0; i <= steps; i++) {
    const point = place(dome, ...at(i / steps));
    const side = point.near >= 0 ? 0 : 1;
    paths[side] += `${side === before ? "L" : "M"}${point.x.toFixed(1)} ${point.y.toFixed(1)}`;
    before = side;
  }
  return paths;
}
