import { type ReactNode, useId } from "react";

/** A choice with its label above it. */
export function Choice({ label, children }: { label: string; children: (id: string) => ReactNode }) {
  const id = useId();
  return (
    <div className="choice">
      <label htmlFor={id}>{label}</label>
      {children(id)}
    </div>
  );
}
