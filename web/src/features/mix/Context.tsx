import { Button } from "react-bootstrap";
import { useNeighbours } from "../../api/queries";
import { useEditor, usePiece } from "../../document/useEditor";

type Props = { spot: string; picking: boolean; onPick: (picking: boolean) => void };

/** The colour of a spot on white, on grey and beside what surrounds it, with a word on what that does. */
export function Context({ spot, picking, onPick }: Props) {
  const piece = usePiece();
  const { edit } = useEditor();
  const neighbours = useNeighbours(piece.id, piece.keys.surroundings, spot);
  const remove = (id: string) =>
    edit((document) => ({
      ...document,
      surroundings: document.surroundings.filter((place) => place.id !== id),
    }));
  return (
    <section className="context" aria-label="Beside its neighbours">
      <ul>
        {neighbours.data?.map((row) => (
          <li key={row.id}>
            <span className="context-field" style={{ background: row.swatch.hex }}>
              <span style={{ background: row.own.hex }} />
            </span>
            <span className="hint">
              {row.name}: {row.words}
            </span>
            {row.id !== "paper" && row.id !== "grey" && (
              <Button variant="quiet" size="sm" onClick={() => remove(row.id)}>
                remove
              </Button>
            )}
          </li>
        ))}
      </ul>
      <Button variant={picking ? "chosen" : "quiet"} size="sm" onClick={() => onPick(!picking)}>
        {picking ? "Click hair or cloth on the reference …" : "Pick a neighbour"}
      </Button>
    </section>
  );
}
