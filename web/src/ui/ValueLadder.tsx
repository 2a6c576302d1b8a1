import type { Figure, SeenSpot } from "../api/client";
import { FigureMark } from "./FigureMark";
import { RoleMark } from "./RoleMark";

const TOP = 22;
const GAP = 19;
const RUNGS = [1, 2, 3, 4, 5, 6, 7, 8, 9];

type Props = {
  spots: SeenSpot[];
  figures: Figure[];
  /** The figures on the ladder, at most two; by default the first two. */
  shown?: Figure[];
  /** Lightest and darkest of a figure's skin, and where its light turns to shadow. */
  limits?: Limits[];
  reach: { darkest: number; lightest: number } | null;
  selected: string | null;
  onSelect: (id: string) => void;
  hovered?: string | null;
  onHover?: (id: string | null) => void;
  height: number;
  /** The grey of each whole value from 0 to 10. */
  greys: string[];
};

type Limits = { id: string; lightest: number | null; darkest: number | null; border: number | null };

/** Labels keep their order and at least GAP between them, as near to their own height as that allows. */
function spread(wanted: number[], low: number, high: number): number[] {
  const placed = [...wanted];
  for (let i = 1; i < placed.length; i++) placed[i] = Math.max(placed[i] ?? 0, (placed[i - 1] ?? 0) + GAP);
  let ceiling = high;
  for (let i = placed.length - 1; i >= 0; i--) {
    placed[i] = Math.min(placed[i] ?? 0, ceiling);
    ceiling = (placed[i] ?? 0) - GAP;
  }
  return placed.map((y) => Math.max(y, low));
}

const STEPS: Record<string, number> = { ArrowDown: 1, ArrowUp: -1 };

/** The value ladder: Munsell 10 to 0, every spot at its own height, the reach of tray and paper beside it. */
export function ValueLadder(props: Props) {
  const { spots, figures, limits, reach, selected, onSelect, hovered, onHover, height, greys } = props;
  const length = height - 2 * TOP;
  const y = (value: number) => TOP + (1 - value / 10) * length;
  const shown = (props.shown ?? figures).slice(0, 2);
  const width = shown.length > 1 ? 196 : 132;
  const rail = shown.length > 1 ? 98 : 46;
  const read = spots.filter((spot) => spot.reading && shown.some((figure) => figure.id === spot.figure));
  const stop = (read.find((spot) => spot.id === selected) ?? read[0])?.id;
  return (
    <svg
      className="ladder"
      width={width}
      height={height}
      role="group"
      aria-label="Value ladder, 10 at the top"
    >
      <defs>
        <linearGradient id="rail" x1="0" y1="1" x2="0" y2="0">
          {greys.map((grey, value) => (
            <stop key={grey} offset={value / 10} stopColor={grey} />
          ))}
        </linearGradient>
      </defs>
      <rect x={rail - 9} y={TOP} width={18} height={length} fill="url(#rail)" stroke="#1d1d1d" />
      {RUNGS.map((value) => (
        <text
          key={value}
          x={rail}
          y={y(value) + 4}
          textAnchor="middle"
          className="ladder-number"
          fill={value > 5 ? "#000" : "#fff"}
        >
          {value}
        </text>
      ))}
      <text x={rail} y={TOP - 7} textAnchor="middle" className="ladder-end">
        10
      </text>
      <text x={rail} y={height - 7} textAnchor="middle" className="ladder-end">
        0
      </text>
      {reach && (
        <g className="ladder-reach">
          <title>
            Paper and tray reach from {reach.darkest.toFixed(1)} to {reach.lightest.toFixed(1)}
          </title>
          <path d={`M ${rail - 11} ${y(reach.lightest)} h -5 V ${y(reach.darkest)} h 5`} />
          {shown.length > 1 && (
            <path d={`M ${rail + 11} ${y(reach.lightest)} h 5 V ${y(reach.darkest)} h -5`} />
          )}
        </g>
      )}
      {shown.length > 1 &&
        shown.map((figure, column) => (
          <g key={figure.id}>
            <g transform={`translate(${column ? rail + 20 : rail - 34} ${TOP - 19})`}>
              <FigureMark index={figures.findIndex((row) => row.id === figure.id)} size={14} />
            </g>
            <text
              x={column ? rail + 37 : rail - 37}
              y={TOP - 7}
              textAnchor={column ? "start" : "end"}
              className="ladder-end"
            >
              {figure.name.slice(0, 8)}
            </text>
          </g>
        ))}
      {shown.map((figure, column) => {
        const found = limits?.find((row) => row.id === figure.id);
        const side = shown.length > 1 && column === 0 ? -1 : 1;
        return found ? <FigureLimits key={figure.id} found={found} x={rail} side={side} y={y} /> : null;
      })}
      {shown.map((figure, column) => {
        const left = shown.length > 1 && column === 0;
        const mine = spots
          .filter((spot) => spot.figure === figure.id && spot.reading)
          .sort((a, b) => (b.reading?.swatch.value ?? 0) - (a.reading?.swatch.value ?? 0));
        const heights = spread(
          mine.map((spot) => y(spot.reading?.swatch.value ?? 0)),
          TOP,
          height - TOP,
        );
        return mine.map((spot, i) => {
          const swatch = spot.reading?.swatch;
          if (!swatch) return null;
          const at = heights[i] ?? 0;
          const side = left ? -1 : 1;
          const near = rail + side * 18;
          const far = rail + side * (shown.length > 1 ? 34 : 30);
          const out = spot.beyond;
          const number = spots.indexOf(spot) + 1;
          return (
            <g
              key={spot.id}
              className={`ladder-spot${spot.id === selected ? " is-selected" : ""}${
                spot.id === hovered ? " is-hovered" : ""
              }`}
              role="button"
              data-ladder={spot.id}
              tabIndex={spot.id === stop ? 0 : -1}
              aria-pressed={spot.id === selected}
              aria-label={`${number}${out ? "!" : ""} ${spot.name}, value ${swatch.value.toFixed(1)}${out ? `, beyond reach: ${out}` : ""}`}
              onPointerEnter={() => onHover?.(spot.id)}
              onPointerLeave={() => onHover?.(null)}
              onClick={() => onSelect(spot.id)}
              onKeyDown={(event) => {
                const by = STEPS[event.key];
                if (event.key !== "Enter" && event.key !== " " && !by) return;
                event.preventDefault();
                if (!by) return onSelect(spot.id);
                // One stop of the Tab key: arrows go from spot to spot, as they stand on the ladder.
                const all = [
                  ...(event.currentTarget.ownerSVGElement?.querySelectorAll<SVGElement>("[data-ladder]") ??
                    []),
                ];
                const next = all[all.indexOf(event.currentTarget) + by];
                next?.focus();
                if (next?.dataset.ladder) onSelect(next.dataset.ladder);
              }}
            >
              {out && <title>{out}</title>}
              <rect
                x={Math.min(near, far) - 2}
                y={at - 9}
                width={66}
                height={18}
                className="ladder-hit"
                transform={left ? "translate(-46 0)" : ""}
              />
              <path d={`M ${rail + side * 10} ${y(swatch.value)} L ${far} ${at}`} className="ladder-line" />
              <rect
                x={left ? far - 17 : far}
                y={at - 8}
                width={17}
                height={16}
                fill={swatch.hex}
                stroke="#1d1d1d"
                strokeWidth={0.75}
              />
              <g transform={`translate(${left ? far - 34 : far + 20} ${at - 7})`}>
                <RoleMark role={spot.role} />
              </g>
              <text
                x={left ? far - 38 : far + 38}
                y={at + 4.5}
                textAnchor={left ? "end" : "start"}
                className="ladder-label"
              >
                {number}
                {out ? "!" : ""}
              </text>
            </g>
          );
        });
      })}
    </svg>
  );
}

/** Marks beside the rail: the ends of a figure's skin, and a broken line where its light turns to shadow. */
function FigureLimits({
  found,
  x,
  side,
  y,
}: {
  found: Limits;
  x: number;
  side: number;
  y: (value: number) => number;
}) {
  const { lightest, darkest, border } = found;
  if (lightest === null || darkest === null) return null;
  return (
    <g className="ladder-limits">
      <title>
        Skin from {darkest.toFixed(1)} to {lightest.toFixed(1)}
        {border !== null && `; light turns to shadow at ${border.toFixed(1)}`}
      </title>
      <path d={`M${x + side * 3} ${y(lightest)}h${side * 11}M${x + side * 3} ${y(darkest)}h${side * 11}`} />
      {border !== null && <path d={`M${x} ${y(border)}h${side * 26}`} className="ladder-border" />}
    </g>
  );
}
