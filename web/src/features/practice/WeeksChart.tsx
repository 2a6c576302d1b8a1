import type { Curve } from "../../api/practice";
import { inWords } from "./words";

const WIDE = 220;
const HIGH = 84;
const PAD = 6;
const WEEK_MS = 7 * 24 * 3600 * 1000;

type Props = { curve: Curve; name: string; from: number; weeks: number; most: number };

/** How far off answers were, week by week, within the band where their mean lies in 80 of 100 cases. */
export function WeeksChart({ curve, name, from, weeks, most }: Props) {
  const x = (start: string) =>
    PAD + ((new Date(start).getTime() - from) / WEEK_MS / Math.max(1, weeks - 1)) * (WIDE - 2 * PAD);
  const y = (off: number) => HIGH - PAD - (Math.min(off, most) / most) * (HIGH - 2 * PAD);
  const line = curve.weeks.map((week) => `${x(week.start).toFixed(1)},${y(week.off).toFixed(1)}`).join(" ");
  return (
    <svg className="weeks" viewBox={`0 0 ${WIDE} ${HIGH}`} role="img" aria-label={inWords(curve, name)}>
      <rect className="weeks-right" x={0} y={y(curve.felt)} width={WIDE} height={HIGH - y(curve.felt)} />
      {curve.weeks.map((week) =>
        week.low === null || week.high === null ? null : (
          <line
            key={week.start}
            className="weeks-band"
            x1={x(week.start)}
            x2={x(week.start)}
            y1={y(week.low)}
            y2={y(week.high)}
          />
        ),
      )}
      <polyline className="weeks-line" points={line} />
      {curve.weeks.map((week) => (
        <circle
          key={week.start}
          className={week.low === null ? "weeks-few" : "weeks-mean"}
          cx={x(week.start)}
          cy={y(week.off)}
          r={week.low === null ? 2.5 : 3.5}
        />
      ))}
    </svg>
  );
}
