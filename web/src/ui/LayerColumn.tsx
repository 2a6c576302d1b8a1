import type { Pass, Step, SwatchData } from "../api/client";

export type Band = Pass & {
  /** How the medium lies; empty for what a tool has done. */
  lies: string;
};

type Props = {
  paper: SwatchData;
  bands: Band[];
  steps: Step[];
  width?: number;
  height?: number;
};

const DEPOSIT: Record<string, number> = { light: 1, medium: 1.7, heavy: 2.6 };
const WIDE = 62;
const FOOT = 34;
const TOP = 12;
const LEAST = 13;
const TOOL = 8;

const along = (count: number, at: (x: number, i: number) => string) =>
  Array.from({ length: count + 1 }, (_, i) => at((i * WIDE) / count, i)).join(" ");
const TEETH = along(24, (x, i) => `L ${x} ${i % 2 ? 3 : -3}`);

/** The upper edge of a band, as its medium lies: on the tooth, in crumbs, in ridges, or closed. */
const EDGES: Record<string, string> = {
  film: along(24, (x, i) => `L ${x} ${i % 2 ? 1.6 : -1.6}`),
  crumbs: along(15, (x, i) => `A 2.4 ${i % 3 ? 2.4 : 3.4} 0 0 1 ${x} ${i % 2 ? -1 : 0.8}`),
  paste: along(5, (x, i) => (i ? `Q ${x - WIDE / 10} ${i % 2 ? -6 : 4} ${x} 0` : "L 0 0")),
  body: `Q 1 -4 8 -4 H ${WIDE - 8} Q ${WIDE - 1} -4 ${WIDE} 0`,
  "": `L ${WIDE} 0`,
};
const CRUMBS = Array.from({ length: 9 }, (_, i) => ({
  x: 4 + i * 6.8,
  y: (i * 5) % 7,
  r: 0.9 + (i % 3) * 0.5,
}));

/** The recipe as a core drilled out of the drawing: paper at the foot, one band per pass, as thick as what
 * it leaves, in the colour the eye sees after it. Ink lies in the paper, everything else on it. */
export function LayerColumn({ paper, bands, steps, width = 118, height = 240 }: Props) {
  const inks = bands.filter((band) => band.lies === "ink").length;
  const weights = bands.map((band) => (DEPOSIT[band.pressure] ?? 1) * band.repeats);
  const total = Math.max(
    6,
    weights.reduce((sum, weight) => sum + weight, 0),
  );
  const scale = (height - FOOT - TOP) / total;
  const thick = bands.map((band, i) => (band.lies ? Math.max(LEAST, (weights[i] ?? 1) * scale) : TOOL));
  let y = height - FOOT;
  const tops = thick.map((part) => {
    y -= part;
    return y;
  });
  const surface = inks ? (tops[inks - 1] ?? y) - 5 : height - FOOT;
  const onPaper = bands.flatMap((band, i) => (band.lies === "ink" ? [] : [i])).reverse();
  return (
    <svg
      className="core"
      width={width}
      height={height}
      role="img"
      aria-label={`A core of ${bands.length} passes on paper`}
    >
      {onPaper.map((i) => (
        <Lying
          key={bands[i]?.id}
          lies={bands[i]?.lies ?? ""}
          hex={steps[i]?.after.hex ?? paper.hex}
          top={tops[i] ?? 0}
          deep={thick[i] ?? 0}
        />
      ))}
      <path
        d={`M 0 0 ${TEETH} L ${WIDE} 0 V ${height - surface} H 0 Z`}
        transform={`translate(0 ${surface})`}
        fill={paper.hex}
        className="core-band"
      />
      {bands.map((band, i) => (
        <g key={band.id}>
          {band.lies === "ink" && (
            <rect
              x={6}
              y={tops[i]}
              width={WIDE - 12}
              height={thick[i]}
              fill={steps[i]?.after.hex ?? paper.hex}
            />
          )}
          <text x={WIDE + 6} y={(tops[i] ?? 0) + (thick[i] ?? 0) / 2 + 4} className="core-label">
            {i + 1} {band.stick}
          </text>
        </g>
      ))}
      <text x={WIDE + 6} y={height - 10} className="core-label">
        paper
      </text>
    </svg>
  );
}

/** A band on the paper; drawn before the one below it, whose upper edge bites into it. */
function Lying({ lies, hex, top, deep }: { lies: string; hex: string; top: number; deep: number }) {
  return (
    <g transform={`translate(0 ${top})`}>
      <path
        d={`M 0 ${deep} L 0 0 ${EDGES[lies] ?? EDGES.film} V ${deep} Z`}
        fill={hex}
        className={lies ? "core-band" : "core-band is-tool"}
      />
      {lies === "crumbs" &&
        CRUMBS.map((crumb) => (
          <circle
            key={crumb.x}
            cx={crumb.x}
            cy={Math.min(deep - 2, 3 + crumb.y)}
            r={crumb.r}
            className="core-crumb"
          />
        ))}
      {lies === "paste" && <path d={`M 3 ${deep / 2} q 14 -5 28 0 t 28 0`} className="core-ridge" />}
    </g>
  );
}
