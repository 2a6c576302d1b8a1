import { NumberField as Field } from "@base-ui/react/number-field";
import { useId, useState } from "react";

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
  const [typed, setTyped] = useState<number | null>(null);
  const wrong = typed !== null && (typed < low || typed > high);
  const finish = (given: number | null) => {
    if (given !== null && given >= low && given <= high && given !== value) onSet(given);
    setTyped(null);
  };
  return (
    <Field.Root
      id={id}
      className="number-field"
      value={typed ?? value}
      // Out of range is allowed while typing, so that it can be said; it is not taken over.
      allowOutOfRange
      min={low}
      max={high}
      format={{ maximumFractionDigits: 1, useGrouping: false }}
      locale="en"
      onValueChange={setTyped}
      onValueCommitted={finish}
    >
      <label className="form-label" htmlFor={id}>
        {label}
      </label>
      <Field.Input
        className="form-control form-control-sm"
        aria-invalid={wrong}
        aria-describedby={wrong ? `${id}-limits` : undefined}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      />
      {wrong && (
        <small id={`${id}-limits`}>
          {low} to {high}
        </small>
      )}
    </Field.Root>
  );
}
