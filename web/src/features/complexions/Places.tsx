import type { SceneTold, Schemas } from "../../api/client";
import { spread } from "../../ui/ladderRows";

const TOP = 14;
const GAP = 25;
const RAIL = 236;

type Spot = SceneTold["spots"][number];
type Props = {
  spots: readonly Spot[];
  atHand: Schemas["AtHand"] | undefined;
  greys: readonly string[];
  height: number;
};

/** A hatch for each family, as the shading map has them. */
const HATCHES: Record<string, string> = {
  highlight: "",
  light: "M3 18L17 12",
  "half-tone": "M3 9L13 3M3 16L19 5M7 19L19 12",
  "core shadow": "M3 7L9 3M3 13L17 3M3 19L19 7M10 19L19 13M3 4L19 18M3 11L11 19",
  "cast shadow": "M3 5H19M3 9H19M3 13H19M3 17H19",
  "reflected light": "M6 6h.1M12 6h.1M18 6h.1M6 12h.1M12 12h.1M18 12h.1M6 18h.1M12 18h.1M18 18h.1",
};

/** What would be planned: each place in its family, its colour, its height on the value ladder, and what can be laid. */
export function Places({ spots, atHand, greys, height }: Props) {
  const length = height - 2 * TOP;
  const y = (value: number) => TOP + (1 - value / 10) * length;
  const [low, high] = [TOP + 10, height - TOP - 4];
  const heights = spread(
    spots.map((spot) => y(spot.colour.value)),
    Math.min(GAP, (high - low) / Math.max(spots.length - 1, 1)),
    low,
    high,
  );
  const reach = atHand?.reach ?? null;
  const out = (i: number) => atHand?.out[i] ?? false;
  return (
    <svg className="places-ladder" viewBox={`0 0 300 ${height}`} role="img" aria-label={said(spots, reach)}>
      <defs>
        <linearGradient id="places-rail" x1="0" y1="1" x2="0" y2="0">
          {greys.map((grey, value) => (
            <stop key={grey} offset={value / 10} stopColor={grey} />
          ))}
        </linearGradient>
      </defs>
      <rect x={RAIL} y={TOP} width={16} height={length} fill="url(#places-rail)" />
      {[1, 2, 3, 4, 5, 6, 7, 8, 9].map((value) => (
        <text key={value} x={RAIL + 22} y={y(value) + 4} className="ladder-end">
          {value}
        </text>
      ))}
      {reach && (
        <path className="places-reach" d={`M${RAIL + 40} ${y(reach.lightest)}h6V${y(reach.darkest)}h-6`} />
      )}
      {spots.map((spot, i) => {
        const at = heights[i] ?? 0;
        return (
          <g key={spot.name} className={out(i) ? "is-out" : ""}>
            <rect x={0} y={at - 10} width={20} height={20} className="places-hatch" />
            <path
              d={HATCHES[spot.family] ?? ""}
              transform={`translate(-1 ${at - 11})`}
              className={spot.family === "reflected light" ? "places-lines is-dots" : "places-lines"}
            />
            <text x={28} y={at + 5} className="places-name">
              {spot.place}
              {out(i) ? " !" : ""}
            </text>
            <text x={182} y={at + 4} textAnchor="end" className="places-family">
              {spot.role === "deep accent" ? "accent" : (SHORT[spot.family] ?? spot.family)}
            </text>
            <rect
              x={188}
              y={at - 10}
              width={24}
              height={20}
              fill={spot.colour.hex}
              className="places-swatch"
            />
            <path d={`M212 ${at}L${RAIL - 1} ${y(spot.colour.value)}`} className="ladder-line" />
          </g>
        );
      })}
    </svg>
  );
}

const SHORT: Record<string, string> = {
  highlight: "shine",
  "half-tone": "half",
  "core shadow": "shade",
  "cast shadow": "cast",
  "reflected light": "bounce",
};

function said(spots: readonly Spot[], reach: Schemas["Reach"] | null): string {
  const list = spots.map((spot) => `${spot.name}, value ${spot.colour.value.toFixed(1)}`).join("; ");
  const held = reach
    ? ` What you own reaches ${reach.darkest.toFixed(1)} to ${reach.lightest.toFixed(1)}.`
    : "";
  return `Places to plan: ${list}.${held}`;
}
