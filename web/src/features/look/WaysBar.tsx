import type { ReactNode } from "react";
import { Button, Form } from "react-bootstrap";
import type { Compare, Ways } from "./useWays";

const COMPARE: { how: Compare; name: string }[] = [
  { how: "whole", name: "Alone" },
  { how: "beside", name: "Side by side" },
  { how: "window", name: "Window" },
];

/** Ways of seeing, and what can be set about the chosen one. */
export function WaysBar({
  ways,
  canBalance,
  colourless,
  children,
}: {
  ways: Ways;
  canBalance: boolean;
  colourless: boolean;
  children: ReactNode;
}) {
  const { way, amount } = ways;
  const comparable = way.id !== "as_it_is" || ways.balanced;
  return (
    <div className="ways">
      <fieldset className="segments" aria-label="Way of seeing">
        {ways.all.map((row, i) => (
          <Button
            key={row.id}
            variant={row.id === way.id ? "chosen" : "quiet"}
            aria-pressed={row.id === way.id}
            onClick={() => ways.see(row.id)}
          >
            <kbd>{i + 1}</kbd> {row.name}
          </Button>
        ))}
      </fieldset>
      <div className="tools ways-more">
        {way.amount && (
          <span className="slider">
            <span className="numbers">
              {way.id === "values" ? `${amount} ${way.amount.says}` : `${way.amount.says} ${amount}`}
            </span>
            <Form.Range
              aria-label={way.id === "values" ? "Number of values" : `Strength of ${way.amount.says}`}
              min={way.amount.least}
              max={ways.most}
              value={amount}
              onChange={(event) => ways.setAmount(Number(event.target.value))}
            />
          </span>
        )}
        {way.id === "values" && (
          <Form.Check
            type="switch"
            id="edges"
            label="Edges"
            title="e"
            checked={ways.borders}
            onChange={(event) => ways.setBorders(event.target.checked)}
          />
        )}
        {canBalance && way.id !== "values" && (
          <Form.Check
            type="switch"
            id="balanced"
            label="Balanced"
            title="b"
            checked={ways.balanced}
            onChange={(event) => ways.setBalanced(event.target.checked)}
          />
        )}
        {comparable && (
          <fieldset className="segments" aria-label="Compare">
            {COMPARE.map((row) => (
              <Button
                key={row.how}
                size="sm"
                variant={row.how === ways.compare ? "chosen" : "quiet"}
                aria-pressed={row.how === ways.compare}
                title="c"
                onClick={() => ways.setCompare(row.how)}
              >
                {row.name}
              </Button>
            ))}
          </fieldset>
        )}
        {colourless && ["temperature", "pushed"].includes(way.id) && (
          <span className="hint">Black and white: there is no temperature and no hue to see.</span>
        )}
        {way.id === "temperature" && !colourless && (
          <span className="hint">Orange is warmer than this skin's average, blue cooler, grey as warm.</span>
        )}
        {children}
      </div>
    </div>
  );
}
