import type { Pass, Step, SwatchData } from "../api/client";

type Props = {
  paper: SwatchData;
  passes: Pass[];
  steps: Step[];
  /** Ink lies in the paper instead of on its tooth. */
  soaks?: boolean;
  width?: number;
  height?: number;
};

const DEPOSIT: Record<string, number> = { light: 1, medium: 1.7, heavy: 2.6 };

/** The recipe as a core drilled out of the drawing: paper at the foot, one band per pass, as thick as what
 * it leaves, in the colour the eye sees after it. */
export function Core({ paper, passes, steps, soaks = false, width = 118, height = 240 }: Props) {
  const foot = 46;
  const top = 8;
  const wide = 62;
  const weights = passes.map((pass) => (DEPOSIT[pass.pressure] ?? 1) * pass.repeats);
  const total = Math.max(
    6,
    weights.reduce((sum, weight) => sum + weight, 0),
  );
  const scale = (height - foot - top) / total;
  let y = height - foot;
  const teeth = Array.from({ length: 12 }, (_, i) => `L ${(i + 0.5) * (wide / 12)} ${i % 2 ? 3 : -3}`).join(
    " ",
  );
  return (
    <svg
      className="core"
      width={width}
      height={height}
      role="img"
      aria-label={`A core of ${passes.length} passes on paper`}
    >
      {soaks && (
        <rect
          x={0}
          y={top}
          width={wide}
          height={height - foot - top + 34}
          fill={paper.hex}
          stroke="#1d1d1d"
          strokeWidth={0.75}
        />
      )}
      {steps.map((step, i) => {
        const pass = passes[i];
        const weight = weights[i];
        if (!pass || weight === undefined) return null;
        const thick = Math.max(13, weight * scale);
        y -= thick;
        return (
          <g key={pass.id} transform={`translate(0 ${y})`}>
            <path
              d={soaks ? `M 7 0 H ${wide - 7} V ${thick} H 7 Z` : `M 0 0 H ${wide} V ${thick} H 0 Z`}
              fill={step.after.hex}
              stroke={soaks ? "none" : "#1d1d1d"}
              strokeWidth={0.75}
            />
            <text x={wide + 6} y={thick / 2 + 4} className="core-label">
              {i + 1} {pass.stick}
            </text>
          </g>
        );
      })}
      <g transform={`translate(0 ${height - foot})`}>
        {!soaks && (
          <path
            d={`M 0 0 ${teeth} L ${wide} 0 V 34 H 0 Z`}
            fill={paper.hex}
            stroke="#1d1d1d"
            strokeWidth={0.75}
          />
        )}
        <text x={wide + 6} y={22} className="core-label">
          paper
        </text>
      </g>
    </svg>
  );
}
