import type { KeyboardEvent, PointerEvent } from "react";
import type { Schemas } from "../../api/client";

type Props = {
  plans: Schemas["SaidPlans"];
  chosen: number;
  onChoose: (layers: number) => void;
};

const [WIDTH, HEIGHT] = [262, 112];
const [LEFT, RIGHT, TOP, BOTTOM] = [92, 252, 10, 84];
const WORDS = [
  { at: 0.5, says: "can’t tell" },
  { at: 1.7, says: "very close" },
  { at: 3.7, says: "just visible" },
  { at: 6.5, says: "clearly off" },
];

/** Fewer layers … closer: what is planned, what hands make of it, and what untried sticks may do, by how many layers. */
export function Curve({ plans, chosen, onChoose }: Props) {
  const rows = plans.plans.map((plan) => ({ n: plan.layers.length, ...plan.expected, words: plan.words }));
  const [low, high] = [rows[0]?.n ?? 1, Math.max(2, rows.at(-1)?.n ?? 2)];
  const x = (n: number) => LEFT + ((n - low) / Math.max(1, high - low)) * (RIGHT - LEFT);
  // Even steps for what an eye tells: the words stand equally far apart.
  const y = (off: number) => {
    const i = Math.max(0, WORDS.findIndex((word) => off <= word.at) - 1);
    const end = off >= (WORDS.at(-1)?.at ?? 0);
    const from = WORDS[end ? WORDS.length - 2 : i];
    const to = WORDS[end ? WORDS.length - 1 : i + 1];
    if (!from || !to) return BOTTOM;
    const part = i + (end ? WORDS.length - 2 - i : 0) + (off - from.at) / (to.at - from.at);
    return Math.max(2, BOTTOM - 6 - (part * (BOTTOM - TOP - 6)) / (WORDS.length - 1));
  };
  const line = (of: (row: (typeof rows)[number]) => number) =>
    rows.map((row) => `${x(row.n)} ${y(of(row))}`).join("L");
  const nearest = (px: number) =>
    rows.reduce((held, row) => (Math.abs(x(row.n) - px) < Math.abs(x(held) - px) ? row.n : held), low);
  const now = rows.find((row) => row.n === chosen);
  const keys = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
    const to = by && rows[rows.findIndex((row) => row.n === chosen) + by];
    if (!by) return;
    event.preventDefault();
    if (to) onChoose(to.n);
  };
  const point = (event: PointerEvent<HTMLDivElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const n = nearest(event.clientX - box.left);
    if (n !== chosen) onChoose(n);
  };
  return (
    <div
      className="curve"
      role="slider"
      tabIndex={0}
      aria-label="How many layers"
      aria-valuemin={low}
      aria-valuemax={high}
      aria-valuenow={chosen}
      aria-valuetext={`${chosen} layers, ${now?.words.by_hand ?? ""}${chosen === plans.recommended ? ", worth it" : ""}`}
      onKeyDown={keys}
      onPointerUp={point}
    >
      <svg width={WIDTH} height={HEIGHT} aria-hidden="true">
        {WORDS.map(({ at, says }) => (
          <g key={says}>
            <text x={LEFT - 8} y={y(at) + 4} textAnchor="end">
              {says}
            </text>
            <path d={`M${LEFT} ${y(at)}H${RIGHT}`} className="curve-rule" />
          </g>
        ))}
        <path
          d={`M${line((row) => row.on_paper)}L${rows
            .toReversed()
            .map((row) => `${x(row.n)} ${y(row.planned)}`)
            .join("L")}Z`}
          className="curve-band"
        />
        <path d={`M${line((row) => row.by_hand)}`} className="curve-line" />
        {rows.map((row) => (
          <text
            key={row.n}
            x={x(row.n)}
            y={HEIGHT - 6}
            textAnchor="middle"
            className={row.n === chosen ? "is-now" : row.n === plans.recommended ? "is-best" : ""}
          >
            {row.n}
          </text>
        ))}
        <text x={LEFT - 12} y={HEIGHT - 6} textAnchor="end">
          layers
        </text>
        {now && <path d={`M${x(now.n)} ${y(now.on_paper)}V${y(now.planned)}`} className="curve-now" />}
        {now?.n !== plans.recommended && (
          <path d={`M${x(plans.recommended) - 6} ${BOTTOM + 5}h12`} className="curve-best">
            <title>So many layers are worth it</title>
          </path>
        )}
      </svg>
    </div>
  );
}
