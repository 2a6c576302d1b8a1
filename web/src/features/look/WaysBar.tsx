import { Form } from "react-bootstrap";
import { Segments } from "../../ui/Segments";
import { Slider } from "../../ui/Slider";
import type { Compare, Ways } from "./useWays";

const COMPARE: { how: Compare; name: string }[] = [
  { how: "whole", name: "Alone" },
  { how: "beside", name: "Side by side" },
  { how: "window", name: "Window" },
];

/** Ways of seeing, as words. */
export function WaysBar({ ways }: { ways: Ways }) {
  return (
    <div className="ways">
      <Segments
        label="Way of seeing"
        choices={ways.all.map((row) => row.id)}
        chosen={ways.way.id}
        onChoose={ways.see}
        say={(id) => ways.all.find((row) => row.id === id)?.name}
        hint={(id) => String(1 + ways.all.findIndex((row) => row.id === id))}
      />
    </div>
  );
}

type SetProps = { ways: Ways; canBalance: boolean; colourless: boolean };

/** What can be set about the chosen way of seeing. */
export function WaySet({ ways, canBalance, colourless }: SetProps) {
  const { way, amount } = ways;
  const comparable = way.id !== "as_it_is" || ways.balanced;
  return (
    <>
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
    </>
  );
}
