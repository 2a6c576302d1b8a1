import type { ReactNode } from "react";
import { Button } from "react-bootstrap";

type Props<T> = {
  label: string;
  choices: readonly T[];
  chosen: T;
  onChoose: (choice: T) => void;
  say?: (choice: T) => ReactNode;
};

/** One of a few, side by side. */
export function Segments<T extends string | number>({ label, choices, chosen, onChoose, say }: Props<T>) {
  return (
    <fieldset className="segments" aria-label={label}>
      {choices.map((choice) => (
        <Button
          key={choice}
          size="sm"
          variant={choice === chosen ? "chosen" : "quiet"}
          aria-pressed={choice === chosen}
          onClick={() => onChoose(choice)}
        >
          {say ? say(choice) : choice}
        </Button>
      ))}
    </fieldset>
  );
}
