import { type KeyboardEvent, type PointerEvent, useRef } from "react";
import type { Schemas } from "../api/client";

type Hole = Schemas["Hole"];

type Props = {
  holes: Hole[];
  /** The heights at which the cards stand, from the first layer on, in pixels from the top. */
  cards: number[];
  height: number;
  laid: number;
  onLaid: (laid: number) => void;
  /** What is laid last, in words. */
  words: string;
};

const WIDE = 34;
const LEFT = 12;
const STEP = 38;
const FOOT = 30;
const TOP = 34;
const LEAST = 7;
const HALF_A_CARD = 34;
const RIGHT = LEFT + 3 * STEP;
const WIDTH = RIGHT + 34;

/** A rough edge from left to right, as strata have: the same each time. */
const rough = (x: number, y: number, width: number, seed: number) =>
  Array.from({ length: 9 }, (_, i) => `L${x + (i * width) / 8} ${y + (((i + seed) * 5) % 4) - 1.5}`).join(
    " ",
  );

/**
 * The drill core of a face, which is the slider from the bare paper to the end: a hole in its light, its half-tone and
 * its shade; strata as thick as what is laid there, in the colour seen after each; leaders to the cards.
 */
export function DrillCore({ holes, cards, height, laid, onLaid, words }: Props) {
  const ref = useRef<HTMLDivElement>(null);
  const count = cards.length;
  const base = height - FOOT;
  const totals = holes.map((hole) => hole.thick.reduce((sum, t) => sum + (t ? Math.max(0.25, t) : 0), 0));
  const scale = (base - TOP) / Math.max(1, ...totals);
  // The upper edge of every stratum of every hole, the paper's first.
  const edges = holes.map((hole) => {
    const tops = [base];
    for (const t of hole.thick)
      tops.push((tops.at(-1) ?? base) - (t ? Math.max(LEAST, Math.max(0.25, t) * scale) : 0));
    return tops;
  });
  const at = (y: number) => cards.filter((card) => card >= y - HALF_A_CARD).length;
  const point = (event: PointerEvent) => {
    const box = ref.current?.getBoundingClientRect();
    if (box) onLaid(at(event.clientY - box.top));
  };
  const keys = (event: KeyboardEvent) => {
    const to = {
      ArrowUp: laid + 1,
      ArrowRight: laid + 1,
      ArrowDown: laid - 1,
      ArrowLeft: laid - 1,
      Home: 0,
      End: count,
    }[event.key];
    if (to === undefined) return;
    event.preventDefault();
    onLaid(Math.min(count, Math.max(0, to)));
  };
  const tops = edges.map((hole) => hole[laid] ?? base);
  const surface = holes
    .map(
      (_, i) => `${i ? "L" : "M"}${LEFT + i * STEP - (i ? 2 : 8)} ${tops[i]}H${LEFT + i * STEP + WIDE + 2}`,
    )
    .join(" ");
  const knob = Math.max(2, Math.min(...tops) - 33);
  return (
    <div
      ref={ref}
      className="drill"
      style={{ width: WIDTH, height }}
      role="slider"
      tabIndex={0}
      aria-label="Layers laid"
      aria-orientation="vertical"
      aria-valuemin={0}
      aria-valuemax={count}
      aria-valuenow={laid}
      aria-valuetext={words}
      onKeyDown={keys}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        point(event);
      }}
      onPointerMove={(event) => event.buttons && point(event)}
    >
      <svg width={WIDTH} height={height} aria-hidden="true">
        <rect x={2} y={0} width={RIGHT + 6} height={height} rx={2} className="drill-mount" />
        {holes.map((hole, i) => (
          <g key={hole.name}>
            {hole.thick.map((thick, layer) => {
              const [foot, top] = [edges[i]?.[layer] ?? base, edges[i]?.[layer + 1] ?? base];
              if (!thick) return null;
              const x = LEFT + i * STEP;
              return layer < laid ? (
                <path
                  // biome-ignore lint/suspicious/noArrayIndexKey: a stratum is its place in the order
                  key={layer}
                  d={`M${x} ${foot + 2} ${rough(x, top, WIDE, layer + i)} V${foot + 2} Z`}
                  fill={hole.colours[layer + 1]}
                />
              ) : (
                <rect
                  // biome-ignore lint/suspicious/noArrayIndexKey: a stratum is its place in the order
                  key={layer}
                  x={x + 1}
                  y={top + 1}
                  width={WIDE - 2}
                  height={Math.max(1, foot - top - 2)}
                  className="drill-later"
                />
              );
            })}
            <path
              d={`M${LEFT + i * STEP} ${height - 4} ${rough(LEFT + i * STEP, base, WIDE, i)} V${height - 4} Z`}
              fill={hole.colours[0]}
            />
            <text x={LEFT + i * STEP + WIDE / 2} y={height - 11} className="drill-name">
              {hole.name}
            </text>
          </g>
        ))}
        {cards.map((card, layer) => {
          const hole = [...holes.keys()].reverse().find((i) => holes[i]?.thick[layer]) ?? 0;
          const middle = ((edges[hole]?.[layer] ?? base) + (edges[hole]?.[layer + 1] ?? base)) / 2;
          const x = LEFT + hole * STEP + WIDE - 4;
          return (
            <g key={card} className={layer === laid - 1 ? "drill-lead is-now" : "drill-lead"}>
              <path
                d={`M${x} ${middle} H${RIGHT + 4} L${WIDTH - 8} ${card} H${WIDTH}`}
                className="drill-halo"
              />
              <path d={`M${x} ${middle} H${RIGHT + 4} L${WIDTH - 8} ${card} H${WIDTH}`} />
              <circle cx={x} cy={middle} r={2.5} />
            </g>
          );
        })}
        <path d={surface} className="drill-surface is-under" />
        <path d={surface} className="drill-surface" />
        <g transform={`translate(4 ${knob})`} className="drill-knob">
          <rect width={86} height={28} rx={14} />
          <path d="M12 12l4 -5 4 5M12 17l4 5 4 -5" />
          <text x={27} y={19}>
            {laid === 0 ? "paper" : `after ${laid}`}
          </text>
        </g>
      </svg>
    </div>
  );
}
