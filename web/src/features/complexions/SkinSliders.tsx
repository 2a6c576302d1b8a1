import type { SceneTold, Skin } from "../../api/client";
import { Gate } from "./Gate";

type Row = { field: keyof Skin; label: string; low: number; high: number; step: number };

const ROWS: Row[] = [
  { field: "depth", label: "Depth", low: 26, high: 73, step: 0.5 },
  { field: "undertone", label: "Undertone", low: 5, high: 95, step: 1 },
  { field: "strength", label: "Strength of colour", low: 5, high: 95, step: 1 },
  { field: "flush", label: "Flush", low: 0, high: 1, step: 0.01 },
  { field: "sun", label: "Sun", low: 0, high: 1, step: 0.01 },
  { field: "freckles", label: "Freckles", low: 0, high: 1, step: 0.01 },
  { field: "beard", label: "Beard", low: 0, high: 1, step: 0.01 },
  { field: "age", label: "Age", low: 0, high: 1, step: 0.01 },
];

const SHARES: [number, string][] = [
  [0.05, "none"],
  [0.35, "a little"],
  [0.66, "some"],
  [2, "much"],
];

function says(row: Row, skin: Skin, told: SceneTold | undefined): string {
  const value = skin[row.field];
  const [depth, undertone] = told?.words.split(", ") ?? [];
  if (row.field === "depth") return listed(depth, `L* ${value.toFixed(0)}`);
  if (row.field === "undertone") return listed(undertone, `yellower than ${value.toFixed(0)} of 100`);
  if (row.field === "strength") return `stronger than ${value.toFixed(0)} of 100`;
  return `${SHARES.find(([below]) => value < below)?.[1]}, ${(100 * value).toFixed(0)} %`;
}

/** Those that are known already. */
const listed = (...parts: (string | undefined)[]) => parts.filter(Boolean).join(", ");

type Props = { skin: Skin; told: SceneTold | undefined; onSet: (change: Partial<Skin>) => void };

/** What a complexion is made of; wherever a gate stands there is such skin. */
export function SkinSliders({ skin, told, onSet }: Props) {
  return (
    <div className="gates">
      {ROWS.map((row) => {
        // The palest stands at the left, as on the sticks.
        const turned = row.field === "depth";
        return (
          <Gate
            key={row.field}
            label={row.label}
            says={says(row, skin, told)}
            low={row.low}
            high={row.high}
            step={row.step}
            value={turned ? row.low + row.high - skin[row.field] : skin[row.field]}
            onSet={(value) => onSet({ [row.field]: turned ? row.low + row.high - value : value })}
            colours={told?.ramps.find((ramp) => ramp.name === row.field)?.colours}
          />
        );
      })}
    </div>
  );
}
