import { type KeyboardEvent, type PointerEvent, useId, useRef } from "react";
import type { Schemas, SeenSpot } from "../api/client";
import { rowsOf, short, spread, wanted } from "./ladderRows";
import "./style/ladder.css";

type Props = {
  /** Of one figure. */
  spots: SeenSpot[];
  /** Where each spot ends; none as long as there is only the reference. */
  endings?: Record<string, Schemas["Ending"]>;
  /** Room for whole names. */
  roomy?: boolean;
  /** Lightest and darkest of the figure's skin, and where its light turns to shadow. */
  limits?: Limits;
  /** The spots of another figure, as ticks across the rail. */
  others?: { name: string; spots: SeenSpot[] };
  reach: { darkest: number; lightest: number } | null;
  selected: string | null;
  hovered?: string | null;
  onHover?: (id: string | null) => void;
  onSelect: (id: string) => void;
  height: number;
  /** The grey of each whole value from 0 to 10. */
  greys: string[];
  /** Whether the second colour is drawn already, and not only planned. */
  drawn?: boolean;
};

type Limits = { lightest: number | null; darkest: number | null; border: number | null };

const [HEAD, BELOW] = [24, 10];
/** Names lie left of the pair, and end here; the rail and its numbers come after it. */
const [NARROW, ROOMY, CHIP] = [98, 142, 18];
const [TO_RAIL, TO_END] = [64, 38];
const BESIDE = 30;
const ROW = 24;
const LEAST_ROW = 19;
/** Letters that a name may have. */
const [LONGEST, LONGEST_ROOMY] = [14, 22];
const RUNGS = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10];

/**
 * The value ladder of a figure: its spots from light to dark, wanted and planned edge to edge, the rail with the value
 * planned, a veil over what hands and untried sticks may make of it, and the reach of paper and tray. One stop of the
 * Tab key.
 */
export function ValueLadder(props: Props) {
  const {
    spots,
    endings = {},
    reach,
    selected,
    hovered,
    onSelect,
    height,
    greys,
    drawn,
    roomy,
    limits,
    others,
  } = props;
  const pair = roomy ? ROOMY : NARROW;
  const railX = pair + TO_RAIL;
  const ref = useRef<HTMLDivElement>(null);
  const rail = useId();
  const bottom = height - BELOW;
  const y = (value: number) => bottom - (Math.min(10, Math.max(0, value)) / 10) * (bottom - HEAD);
  const most = Math.floor((bottom - HEAD) / LEAST_ROW);
  const rows = rowsOf(spots, most, selected);
  const gap = Math.min(ROW, (bottom - HEAD) / Math.max(1, rows.length));
  const heights = spread(
    rows.map((row) => y(wanted(row.spot))),
    gap,
    HEAD + 8,
    bottom - 8,
  );
  const planned = props.endings !== undefined;
  const both = planned && rows.some(({ spot }) => spot.id in endings || spot.outcome?.result);
  const [start, end] = [heights[0] ?? HEAD, heights.at(-1) ?? HEAD];
  const index = rows.findIndex((row) => row.spot.id === selected);
  const keys = (event: KeyboardEvent) => {
    const to = { ArrowUp: index - 1, ArrowDown: index + 1, Home: 0, End: rows.length - 1 }[event.key];
    if (to === undefined) return;
    event.preventDefault();
    const row = rows[Math.min(rows.length - 1, Math.max(0, to))];
    if (row) onSelect(row.spot.id);
  };
  /** The row that is nearest to a pointer: rows are lower than a finger is broad. */
  const nearest = (event: PointerEvent) => {
    const at = event.clientY - (ref.current?.getBoundingClientRect().top ?? 0);
    const near = heights.reduce(
      (held, row, i) => (Math.abs(row - at) < Math.abs((heights[held] ?? 0) - at) ? i : held),
      0,
    );
    return rows[near]?.spot.id;
  };
  return (
    <div
      ref={ref}
      className="plan-ladder"
      role="listbox"
      tabIndex={0}
      aria-label={`Value ladder${planned ? `: wanted and ${drawn ? "drawn" : "planned"}` : ""}`}
      aria-activedescendant={index >= 0 ? `${rail}-${rows[index]?.key}` : undefined}
      onKeyDown={keys}
      onPointerMove={(event) => props.onHover?.(nearest(event) ?? null)}
      onPointerLeave={() => props.onHover?.(null)}
      onPointerUp={(event) => {
        const id = nearest(event);
        if (id) onSelect(id);
      }}
    >
      <svg width={railX + TO_END + (others ? BESIDE : 0)} height={height} role="presentation">
        <defs>
          <linearGradient id={rail} x1="0" y1="1" x2="0" y2="0">
            {greys.map((grey, value) => (
              <stop key={grey} offset={value / 10} stopColor={grey} />
            ))}
          </linearGradient>
        </defs>
        <text x={pair} y={12}>
          {both ? (drawn ? "want·has" : "want·plan") : planned ? "want" : ""}
        </text>
        {rows.length > 0 && (
          <rect
            x={pair - 5}
            y={start - 14}
            width={(both ? 2 : 1) * CHIP + 10}
            height={end - start + 28}
            rx={2}
            className="mount"
          />
        )}
        <rect x={railX} y={HEAD} width={14} height={bottom - HEAD} fill={`url(#${rail})`} />
        {RUNGS.map((value) => (
          <text key={value} x={railX + 19} y={y(value) + 4} className={value % 5 ? "" : "is-main"}>
            {value}
          </text>
        ))}
        {reach && (
          <path d={`M${railX - 4} ${y(reach.lightest)}h-5V${y(reach.darkest)}h5`} className="plan-reach">
            <title>
              Paper and tray reach from {reach.darkest.toFixed(1)} to {reach.lightest.toFixed(1)}
            </title>
          </path>
        )}
        {limits && <FigureLimits found={limits} x={railX} y={y} />}
        {others && (
          <text x={railX + TO_END + BESIDE} y={12} textAnchor="end">
            {others.name}
          </text>
        )}
        {others?.spots.map(
          (spot) =>
            spot.reading && (
              <rect
                key={spot.id}
                x={railX + TO_END + 4}
                y={y(wanted(spot)) - 2.5}
                width={BESIDE - 8}
                height={5}
                fill={spot.reading.swatch.hex}
              >
                <title>{`${others.name}, ${spot.name}: ${wanted(spot).toFixed(1)}`}</title>
              </rect>
            ),
        )}
        {rows.map((row, i) => {
          const { spot } = row;
          const at = heights[i] ?? 0;
          const ending = endings[spot.id];
          const made = planned ? (ending?.hex ?? spot.outcome?.result?.hex) : undefined;
          const chosen = spot.id === selected;
          const said = [
            row.words,
            spot.reading ? `${planned ? "wanted" : "value"} ${wanted(spot).toFixed(1)}` : "not read yet",
            ending &&
              (drawn
                ? `drawn ${ending.value.toFixed(1)}`
                : `planned ${ending.value.toFixed(1)}, on paper ${ending.low.toFixed(1)} to ${ending.high.toFixed(1)}`),
            spot.beyond,
          ];
          return (
            <g
              key={row.key}
              id={`${rail}-${row.key}`}
              role="option"
              tabIndex={-1}
              aria-selected={chosen}
              aria-label={said.filter(Boolean).join(", ")}
              className={`plan-row${chosen ? " is-selected" : ""}${spot.id === hovered ? " is-hovered" : ""}`}
            >
              {spot.reading && (
                <path
                  d={`M${pair + (both ? 2 : 1) * CHIP} ${at}L${railX - 1} ${y(wanted(spot))}`}
                  className="plan-line"
                />
              )}
              <text x={pair - 10} y={at + 4.5} textAnchor="end" className="plan-name">
                {short(`${spot.beyond ? "! " : ""}${row.words}`, roomy ? LONGEST_ROOMY : LONGEST)}
              </text>
              <rect
                x={pair}
                y={at - gap / 2 + 2.5}
                width={CHIP}
                height={gap - 5}
                fill={spot.reading?.swatch.hex ?? "none"}
              />
              {made && (
                <rect x={pair + CHIP} y={at - gap / 2 + 2.5} width={CHIP} height={gap - 5} fill={made} />
              )}
              {ending && drawn && (
                <path
                  d={`M${railX - 1} ${y(wanted(spot))}V${y(ending.value)}m-4 0h8`}
                  className="plan-line plan-drawn"
                />
              )}
              {ending && (
                <>
                  <rect
                    x={railX + 2}
                    y={y(ending.high)}
                    width={10}
                    height={Math.max(1, y(ending.low) - y(ending.high))}
                    className={ending.value > 5 ? "plan-veil is-dark" : "plan-veil"}
                  />
                  <path
                    d={`M${railX + 2} ${y(ending.value)}h10`}
                    className={ending.value > 5 ? "plan-mark is-dark" : "plan-mark"}
                  />
                </>
              )}
            </g>
          );
        })}
      </svg>
    </div>
  );
}

/** Marks across the rail: the ends of a figure's skin, and a broken line where its light turns to shadow. */
function FigureLimits({ found, x, y }: { found: Limits; x: number; y: (value: number) => number }) {
  const { lightest, darkest, border } = found;
  if (lightest === null || darkest === null) return null;
  return (
    <g className="plan-limits">
      <title>
        Skin from {darkest.toFixed(1)} to {lightest.toFixed(1)}
        {border !== null && `; light turns to shadow at ${border.toFixed(1)}`}
      </title>
      <path d={`M${x - 3} ${y(lightest)}h20M${x - 3} ${y(darkest)}h20`} />
      {border !== null && <path d={`M${x - 3} ${y(border)}h38`} className="plan-border" />}
    </g>
  );
}
