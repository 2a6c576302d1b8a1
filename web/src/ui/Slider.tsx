import { Slider as Sliding } from "@base-ui/react/slider";

type Props = {
  label: string;
  value: number;
  low: number;
  high: number;
  step?: number;
  onSet: (value: number) => void;
  /** What stands before the slider in place of its label, which is then only read aloud. */
  words?: string;
};

/** A slider under its own words. */
export function Slider({ label, value, low, high, step = 1, onSet, words }: Props) {
  return (
    <Sliding.Root
      className={words ? "slider is-beside" : "slider"}
      min={low}
      max={high}
      step={step}
      value={value}
      onValueChange={(given) => onSet(given as number)}
    >
      <span className="numbers">{words ?? label}</span>
      <Sliding.Control className="slider-control">
        <Sliding.Track className="slider-track">
          <Sliding.Indicator className="slider-filled" />
          <Sliding.Thumb className="slider-thumb" aria-label={label} />
        </Sliding.Track>
      </Sliding.Control>
    </Sliding.Root>
  );
}
