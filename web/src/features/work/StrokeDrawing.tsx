import type { Schemas } from "../../api/client";

type Kind = Schemas["LaidStep"]["kind"];

const across = (count: number, draw: (i: number) => string) =>
  Array.from({ length: count }, (_, i) => draw(i)).join("");
const rows = (draw: (y: number, row: number) => string) => [14, 34, 54].map(draw).join("");

const PATHS: Record<Kind, string> = {
  circles: rows((y) => across(9, (i) => `M${8 + i * 11} ${y}a8 8 0 1 1 0.1 4`)),
  cross: `${across(12, (i) => `M${6 + i * 9} 60l14 -52`)}${across(6, (i) => `M4 ${12 + i * 9}h112`)}`,
  flick: across(9, (i) => `M${8 + i * 12} 58q2 -24 ${8 + (i % 3)} -46`),
  side: across(5, (i) => `M6 ${10 + i * 12}q54 -6 108 0`),
  even: across(5, (i) => `M8 ${11 + i * 11.5}h104`),
  dab: rows((y, row) => across(8, (i) => `M${12 + i * 13 + row * 3} ${y}l4 3`)),
  drag: across(4, (i) => `M8 ${12 + i * 14}c30 -8 70 10 104 0`),
  rub: rows((y) => `M8 ${y}q12 -12 24 0t24 0t24 0t24 0`),
  press: rows((y) => across(7, (i) => `M${12 + i * 14} ${y}a5 5 0 1 1 0.1 3`)),
  lift: rows((y, row) => across(6, (i) => `M${14 + i * 17 + row * 4} ${y}v-5m-3 2l3 -3l3 3`)),
};
const WIDTHS: Partial<Record<Kind, number>> = { side: 7, even: 10, drag: 8, dab: 7, press: 3.4, cross: 2.2 };

/** A stroke as the hand makes it. */
export function StrokeDrawing({ kind }: { kind: Kind }) {
  return (
    <svg className="stroke-drawing" viewBox="0 0 120 68" aria-hidden="true">
      <path
        d={PATHS[kind]}
        strokeWidth={WIDTHS[kind] ?? 1.8}
        fill="none"
        stroke="currentColor"
        strokeLinecap="round"
      />
    </svg>
  );
}
