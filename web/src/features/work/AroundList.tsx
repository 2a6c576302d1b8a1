import { Button } from "react-bootstrap";
import type { Schemas } from "../../api/client";
import { useEditor, usePiece } from "../../document/useEditor";

type Props = {
  steps: Schemas["AroundStep"][];
  sticks: { code: string; name: string; hex: string }[];
  onClose: () => void;
};

/** The layers of hair, cloth and ground, to be ticked one by one. */
export function AroundList({ steps, sticks, onClose }: Props) {
  const { done } = usePiece().work;
  const { note } = useEditor();
  const regions = [...new Set(steps.map((row) => row.region))];
  return (
    <section
      className="over-screen"
      aria-label="Hair, cloth and ground"
      onKeyDown={(event) => event.key === "Escape" && onClose()}
    >
      <header>
        <h3 className="h4">Hair, cloth and ground</h3>
        <Button variant="quiet" size="sm" autoFocus onClick={onClose}>
          back to the easel
        </Button>
      </header>
      {regions.map((region) => (
        <div key={region}>
          <h4 className="h5">{region}</h4>
          <ul className="around-steps">
            {steps
              .filter((row) => row.region === region)
              .map((row) => {
                const stick = sticks.find((one) => one.code === row.stick);
                const laid = done[row.layer] === "done";
                return (
                  <li key={row.layer}>
                    <label>
                      <input
                        type="checkbox"
                        className="form-check-input"
                        checked={laid}
                        onChange={() => note({ [row.layer]: { state: laid ? "" : "done" } })}
                      />
                      {stick && <span className="stick-dot" style={{ background: stick.hex }} />}
                      <span>
                        <b>{row.stick}</b> {stick?.name}
                      </span>
                      <span className="hint">
                        {row.where}: {row.how}
                      </span>
                    </label>
                  </li>
                );
              })}
          </ul>
        </div>
      ))}
    </section>
  );
}
