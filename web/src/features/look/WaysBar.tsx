import type { ReactNode } from "react";
import { Form } from "react-bootstrap";
import { Segments } from "../../ui/Segments";
import { Slider } from "../../ui/Slider";
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
      <Segments
        large
        label="Way of seeing"
        choices={ways.all.map((row) => row.id)}
        chosen={way.id}
        onChoose={ways.see}
        say={(id) => {
          const i = ways.all.findIndex((row) => row.id === id);
          return (
            <>
              <kbd>{i + 1}</kbd> {ways.all[i]?.name}
            </>
          );
        }}
      />
      <div className="tools ways-more">
        {way.amount && (
          <Slider
            label={way.id === "values" ? "Number of values" : `Strength of ${way.amount.says}`}
            words={way.id === "values" ? `${amount} ${way.amount.says}` : `${way.amount.says} ${amount}`}
            low={way.amount.least}
            high={ways.most}
            value={amount}
            onSet={ways.setAmount}
          />
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
          <Segments
            label="Compare"
            choices={COMPARE.map((row) => row.how)}
            chosen={ways.compare}
            onChoose={ways.setCompare}
            say={(how) => COMPARE.find((row) => row.how === how)?.name}
            hint={() => "c"}
          />
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
