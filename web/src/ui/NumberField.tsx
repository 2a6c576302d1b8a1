import { useId, useState } from "react";
import { Form } from "react-bootstrap";

type Props = {
  label: string;
  value: number | null;
  low: number;
  high: number;
  onSet: (value: number) => void;
};

/** A number that is taken over on Enter or on leaving the field, if it lies within its limits. */
export function NumberField({ label, value, low, high, onSet }: Props) {
  const id = useId();
  const [text, setText] = useState<string | null>(null);
  const wrong = text !== null && !(text.trim() !== "" && Number(text) >= low && Number(text) <= high);
  const finish = () => {
    if (text !== null && !wrong && Number(text) !== value) onSet(Number(text));
    setText(null);
  };
  return (
    <Form.Group controlId={id} className="number-field">
      <Form.Label>{label}</Form.Label>
      <Form.Control
        size="sm"
        inputMode="decimal"
        value={text ?? (value === null ? "" : String(Math.round(value * 10) / 10))}
        aria-invalid={wrong}
        aria-describedby={wrong ? `${id}-limits` : undefined}
        onChange={(event) => setText(event.target.value)}
        onBlur={finish}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      />
      {wrong && (
        <small id={`${id}-limits`}>
          {low} to {high}
        </small>
      )}
    </Form.Group>
  );
}
