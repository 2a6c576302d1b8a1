import { useId } from "react";
import { Form } from "react-bootstrap";

type Props = {
  label: string;
  value: number;
  low: number;
  high: number;
  step?: number;
  onSet: (value: number) => void;
};

/** A slider under its own words. */
export function Slider({ label, value, low, high, step = 1, onSet }: Props) {
  const id = useId();
  return (
    <Form.Group controlId={id} className="slide-label">
      <Form.Label>{label}</Form.Label>
      <Form.Range
        min={low}
        max={high}
        step={step}
        value={value}
        onChange={(event) => onSet(Number(event.target.value))}
      />
    </Form.Group>
  );
}
