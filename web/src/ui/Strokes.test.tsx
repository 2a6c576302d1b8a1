import { renderToStaticMarkup } from "react-dom/server";
import { expect, test } from "vitest";
import { Strokes } from "./Strokes";

const drawn = (medium: string, pressure: string) =>
  renderToStaticMarkup(<Strokes hex="#c58a3c" pressure={pressure} medium={medium} />);
const widths = (svg: string) =>
  [...svg.matchAll(/stroke-width="([\d.]+)"/g)].map((found) => Number(found[1]));

test.each(["pencil", "marker", "pastel", "oil_pastel"])(
  "%s that is laid closed has its colour alone",
  (medium) => {
    const svg = drawn(medium, "full");
    expect(new Set(svg.match(/stroke="[^"]*"/g))).toEqual(new Set(['stroke="#c58a3c"']));
    expect(svg).not.toMatch(/stroke-opacity="0/);
    expect(svg).not.toContain("stroke-dasharray");
  },
);

test.each(["pencil", "pastel", "oil_pastel"])("%s lies broader the harder it is pressed", (medium) => {
  const broad = ["light", "medium", "heavy"].map((pressure) => widths(drawn(medium, pressure))[0] ?? 0);
  expect(broad).toEqual([...broad].sort((a, b) => a - b));
  expect(new Set(broad).size).toBe(3);
});
