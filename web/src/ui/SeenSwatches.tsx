import { Button, Form } from "react-bootstrap";
import { Strokes } from "./Strokes";
import { type Named, type SeenSheet, UNSURE, type Written } from "./swatchSheet";

type Props = {
  sheet: SeenSheet;
  names: readonly Named[];
  medium: string;
  picked: number | null;
  left: ReadonlySet<number>;
  /** Numbers and names are those of a box. */
  fixed: boolean;
  onWrite: (at: number, part: Written) => void;
  onLeave: (at: number) => void;
};

/** What was read, swatch by swatch: its colour, what it is called, and what is doubtful about it. */
export function SeenSwatches({ sheet, names, medium, picked, left, fixed, onWrite, onLeave }: Props) {
  return (
    <ul className="list-rows">
      {sheet.swatches.map((row, i) => (
        <li
          // biome-ignore lint/suspicious/noArrayIndexKey: a swatch is its place in the order
          key={i}
          className={row.said ? "is-wrong" : picked === i ? "is-picked" : ""}
          hidden={left.has(i)}
        >
          <span className="row-colour">
            <Strokes hex={row.swatch.hex} pressure="heavy" medium={medium} />
          </span>
          <Form.Control
            size="sm"
            aria-label={`Number of swatch ${i + 1}`}
            className="row-code"
            value={names[i]?.code ?? ""}
            maxLength={80}
            disabled={fixed}
            onChange={(event) => onWrite(i, { code: event.target.value })}
          />
          <Form.Control
            size="sm"
            aria-label={`Name of swatch ${i + 1}`}
            value={names[i]?.name ?? ""}
            maxLength={80}
            disabled={fixed}
            onChange={(event) => onWrite(i, { name: event.target.value })}
          />
          <span
            className="row-doubt"
            title={`Sure to ±${row.doubt.toFixed(1)}; its parts differ by ${row.spread.toFixed(1)}`}
          >
            ±{row.doubt.toFixed(1)}
          </span>
          <Button variant="quiet" size="sm" aria-label={`Remove swatch ${i + 1}`} onClick={() => onLeave(i)}>
            remove
          </Button>
          {(row.said || row.doubt > UNSURE) && (
            <p className="row-said">
              Swatch {i + 1}: {row.said || "Its parts differ much."}
            </p>
          )}
        </li>
      ))}
    </ul>
  );
}
