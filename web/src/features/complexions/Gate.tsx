import { Slider } from "@base-ui/react/slider";

type Props = {
  label: string;
  /** What it stands at, in words. */
  says: string;
  value: number;
  low: number;
  high: number;
  step?: number;
  onSet: (value: number) => void;
  /** What the slider runs through; a plain scale without it. */
  colours?: readonly string[] | undefined;
};

/** A slider over what it runs through, set by a gate that hides none of it. */
export function Gate({ label, says, value, low, high, step = 1, onSet, colours }: Props) {
  return (
    <Slider.Root
      className="gate"
      min={low}
      max={high}
      step={step}
      value={value}
      onValueChange={(given) => onSet(given as number)}
    >
      <span className="gate-label">{label}</span>
      <span className="gate-says">{says}</span>
      <Slider.Control className="gate-control">
        <Slider.Track className={colours ? "gate-track" : "gate-track is-scale"}>
          {colours?.map((colour, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: the same colour may come twice
            <i key={i} style={{ background: colour }} />
          ))}
          <Slider.Thumb className="gate-thumb" aria-label={`${label}: ${says}`} />
        </Slider.Track>
      </Slider.Control>
    </Slider.Root>
  );
}
