import { Button } from "react-bootstrap";
import type { Figure, Stick } from "../../api/client";
import { useOtherSticks } from "../../api/queries";
import type { Layer } from "../../document/layers";
import { usePiece } from "../../document/useEditor";
import { Strokes } from "../../ui/Strokes";
import { useNoun } from "../../ui/useNoun";
import { Face } from "./Face";

const [TELLS, MUCH] = [0.15, 0.8];

/** A difference in ΔE00 to what there is now, in words. */
function beside(more: number): string {
  if (Math.abs(more) < TELLS) return "as near as now";
  const how = Math.abs(more) > MUCH ? "much " : "a little ";
  return more < 0 ? `${how}nearer than now` : `${how}farther than now`;
}

type Props = {
  /** How far off hands are with the plan as it is, in ΔE00; unknown where nothing is said beside it. */
  now?: number;
  figure: Figure;
  layer: Layer;
  sticks: Stick[];
  onTake: (layers: Layer[]) => void;
  onClose: () => void;
};

/** Other sticks for a layer, each with what the face would be with it, the best first. */
export function OtherSticks({ now, figure, layer, sticks, onTake, onClose }: Props) {
  const piece = usePiece();
  const noun = useNoun(sticks.filter((row) => row.code === layer.stick));
  const { data, error, isPending } = useOtherSticks(piece.id, piece.keys.layers, figure.id, layer.id);
  return (
    <section
      className="over-screen"
      aria-label={`Instead of ${layer.stick}`}
      onKeyDown={(event) => event.key === "Escape" && onClose()}
    >
      <header>
        <h3 className="h4">Instead of {layer.stick}</h3>
        <Button variant="quiet" size="sm" autoFocus onClick={onClose}>
          leave it
        </Button>
      </header>
      <p className="hint">
        What each would make of the whole face; in the row the wanted colours lie above the planned ones, from
        light to dark. How hard and how often is chosen anew with it.
      </p>
      {isPending && <p aria-live="polite">Trying the others …</p>}
      {error && (
        <p className="problem" role="alert">
          {error.message}
        </p>
      )}
      {data?.length === 0 && <p>No other of your {noun}s may lie there.</p>}
      <ul className="swaps">
        {data?.map((row) => {
          const stick = sticks.find((held) => held.code === row.stick);
          return (
            <li key={row.stick}>
              <button type="button" onClick={() => onTake(row.plan.layers.map((held) => held.layer))}>
                <Strokes hex={stick?.swatch.hex ?? "#808080"} pressure="medium" medium={stick?.medium} />
                <span>
                  <b>{row.stick}</b> {stick?.name}
                  <span className="hint">
                    {row.plan.words.by_hand}
                    {now !== undefined && `, ${beside(row.plan.expected.by_hand - now)}`}
                    {stick?.cautions.map((caution) => `. ${caution}`)}
                  </span>
                </span>
                <Face figure={figure.id} gives={row.plan.gives} alt={`The face with ${row.stick}`} />
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}
