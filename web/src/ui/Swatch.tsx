import type { SwatchData } from "../api/client";

/** From where on black reads better on it than white. */
const light = (value: number) => value > 4.8;

/** A field of one colour with its value as a number. */
export function Chip({ swatch, label, tall }: { swatch: SwatchData; label?: string; tall?: boolean }) {
  return (
    <span
      className={`chip${tall ? " chip-tall" : ""}`}
      style={{ background: swatch.hex, color: light(swatch.value) ? "#000" : "#fff" }}
      role="img"
      aria-label={`${label ? `${label}: ` : ""}${swatch.words}, value ${swatch.value.toFixed(1)}`}
      title={swatch.words}
    >
      {label && <small>{label}</small>}
      <b>{swatch.value.toFixed(1)}</b>
    </span>
  );
}

/** Two colours edge to edge, to be compared. */
export function Pair({ target, result, tall }: { target: SwatchData; result: SwatchData; tall?: boolean }) {
  return (
    <span className="pair">
      <Chip swatch={target} label={tall ? "wanted" : undefined} tall={tall} />
      <Chip swatch={result} label={tall ? "you get" : undefined} tall={tall} />
    </span>
  );
}

/** A bare field of a stick's colour. */
export function StickDot({ hex }: { hex: string }) {
  return <span className="stick-dot" style={{ background: hex }} aria-hidden="true" />;
}
