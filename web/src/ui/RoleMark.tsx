import type { Role } from "../api/client";

const FILLED: Record<Role, number> = {
  highlight: 0,
  light: 0.15,
  middle: 0.4,
  "half-shadow": 0.6,
  shadow: 0.8,
  "deep accent": 1,
  "reflected light": 0.7,
};

/** A small tank: the fuller, the deeper in the shade; a chip of light at the foot marks reflected light. */
export function RoleMark({ role, size = 14 }: { role: Role; size?: number }) {
  const full = FILLED[role] * 12;
  return (
    <svg width={size} height={size} viewBox="0 0 16 16" aria-hidden="true" className="role-mark">
      <rect x="2" y="2" width="12" height="12" fill="#fff" stroke="#111" strokeWidth="1.5" />
      <rect x="2" y={14 - full} width="12" height={full} fill="#111" />
      {role === "reflected light" && <rect x="8.5" y="9" width="4" height="3.5" fill="#fff" />}
      {role === "highlight" && <rect x="7" y="7" width="2" height="2" fill="#111" />}
    </svg>
  );
}
