import { Radio } from "@base-ui/react/radio";
import { RadioGroup } from "@base-ui/react/radio-group";
import type { ReactNode } from "react";

type Props<T> = {
  label: string;
  choices: readonly T[];
  chosen: T;
  onChoose: (choice: T) => void;
  say?: (choice: T) => ReactNode;
  hint?: (choice: T) => string | undefined;
  large?: boolean;
};

/** One of a few, side by side: one stop of the Tab key, arrow keys within. */
export function Segments<T extends string | number>(props: Props<T>) {
  const { label, choices, chosen, onChoose, say, hint, large = false } = props;
  return (
    <RadioGroup
      className="segments"
      aria-label={label}
      value={chosen}
      onValueChange={(choice) => onChoose(choice as T)}
    >
      {choices.map((choice) => (
        <Radio.Root
          key={choice}
          value={choice}
          nativeButton
          className={`btn ${choice === chosen ? "btn-chosen" : "btn-quiet"}${large ? "" : " btn-sm"}`}
          render={<button type="button" title={hint?.(choice)} />}
        >
          {say ? say(choice) : choice}
        </Radio.Root>
      ))}
    </RadioGroup>
  );
}
