import type { SwatchData } from "../api/client";
import { Strokes } from "./Strokes";

type Laid = { swatch: SwatchData; medium?: string; label?: string };

/** A colour as it is laid on paper, edge to edge; what it is called and how light it is are read aloud. */
export function LaidColour({ swatch, medium, label }: Laid) {
  return (
    <span
      className="laid"
      role="img"
      aria-label={`${label ? `${label}: ` : ""}${swatch.words}, value ${swatch.value.toFixed(1)}`}
      title={swatch.words}
    >
      <Strokes hex={swatch.hex} pressure="full" medium={medium} />
    </span>
  );
}

/** Two colours edge to edge in their mount, to be compared; with words below where there is room. */
export function Pair({ target, result, tall }: { target: SwatchData; result: SwatchData; tall?: boolean }) {
  const both = [
    { swatch: target, said: "wanted" },
    { swatch: result, said: "you get" },
  ];
  return (
    <span className={tall ? "pair is-tall" : "pair"}>
      <span className="pair-mount">
        {both.map(({ swatch, said }) => (
          <i
            key={said}
            role="img"
            style={{ background: swatch.hex }}
            aria-label={`${said}: ${swatch.words}, value ${swatch.value.toFixed(1)}`}
            title={swatch.words}
          />
        ))}
      </span>
      {tall &&
        both.map(({ swatch, said }) => (
          <span key={said} aria-hidden="true">
            {said} <b className="numbers">{swatch.value.toFixed(1)}</b>
          </span>
        ))}
    </span>
  );
}

/** A bare field of a stick's colour. */
export function StickDot({ hex }: { hex: string }) {
  return <span className="stick-dot" style={{ background: hex }} aria-hidden="true" />;
}
