import type { Schemas } from "../api/client";

const PRESSURES = ["light", "medium", "heavy"];

/** How hard, as three strokes from fine to broad of which one is dark. */
export function Pressure({ level }: { level: Schemas["Level"] }) {
  const at = PRESSURES.indexOf(level.pressure);
  return (
    <svg className="pressure" width="34" height="14" viewBox="0 0 34 14" aria-hidden="true">
      {PRESSURES.map((name, i) => (
        <path
          key={name}
          d={`M${4 + i * 11} 12l5 -10`}
          strokeWidth={1.5 + i * 1.7}
          className={i === at ? "is-now" : ""}
        />
      ))}
    </svg>
  );
}
