import type { Schemas } from "../../api/client";
import { comparedUrl } from "../../api/comparing";

type Row = Schemas["ComparisonRow"];
type Props = { rows: Row[]; current: string; onPick: (id: string) => void };

const [WIDE, HIGH, MOST] = [150, 64, 14];
const day = new Intl.DateTimeFormat(undefined, {
  day: "numeric",
  month: "short",
  hour: "numeric",
  minute: "2-digit",
});

/** The drawing over time, and how far off it was. */
export function Growth({ rows, current, onPick }: Props) {
  const step = (WIDE - 20) / Math.max(1, rows.length - 1);
  const y = (mean: number) => HIGH - 6 - (Math.min(MOST, mean) / MOST) * (HIGH - 12);
  const points = rows.map((row, i) => [10 + i * step, y(row.mean)] as const);
  return (
    <section className="growth" aria-label="How it has grown">
      <h2 className="hint">How it has grown</h2>
      <ul>
        {rows.map((row) => (
          <li key={row.id}>
            <button
              type="button"
              aria-current={row.id === current}
              title={`Photograph ${row.number}, ${day.format(new Date(row.made))}: ${row.close}`}
              onClick={() => onPick(row.id)}
            >
              <img src={comparedUrl(row.id, "drawing", "as_it_is", false, row.made)} alt="" />
              <span>
                {row.number}
                <span className="visually-hidden">, {row.close}</span>
              </span>
            </button>
          </li>
        ))}
      </ul>
      {rows.length > 1 && (
        <svg
          width={WIDE}
          height={HIGH}
          role="img"
          aria-label={`Mean difference: ${rows.map((row) => row.mean.toFixed(1)).join(", then ")}`}
        >
          <polyline points={points.map((point) => point.join(",")).join(" ")} />
          {points.map(([cx, cy], i) => (
            <circle key={rows[i]?.id} cx={cx} cy={cy} r={rows[i]?.id === current ? 5 : 3} />
          ))}
        </svg>
      )}
    </section>
  );
}
