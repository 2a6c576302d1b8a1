import { Button } from "react-bootstrap";
import { type SeenSpot, server } from "../../api/client";
import { problemOf, useWrite } from "../../api/mutations";
import { useEditor, usePiece } from "../../document/useEditor";
import { Pair } from "../../ui/Swatch";

/** What would be exact for one place alone: recipes of its own, outside the layers, to be looked at or taken. */
export function ExactHere({ spot }: { spot: SeenSpot }) {
  const piece = usePiece();
  const { editSpot } = useEditor();
  const ask = useWrite(() => server.answers(piece.id, spot.id));
  const problem = problemOf(ask.error, "");
  if (!ask.data)
    return (
      <>
        <Button variant="quiet" size="sm" disabled={ask.isPending} onClick={() => ask.mutate(undefined)}>
          {ask.isPending ? "trying everything …" : "exact for this place"}
        </Button>
        {problem && (
          <p className="problem" role="alert">
            {problem}
          </p>
        )}
      </>
    );
  return (
    <ul className="exact" aria-label="Exact for this place">
      {ask.data.map((row) => (
        <li key={row.kind}>
          {row.outcome.target && row.outcome.result && (
            <Pair target={row.outcome.target} result={row.outcome.result} />
          )}
          <span>
            <b>{row.kind}</b> <span className="hint">{row.passes.map((pass) => pass.stick).join(" · ")}</span>
          </span>
          <Button
            variant="quiet"
            size="sm"
            aria-label={`Use ${row.kind}`}
            onClick={() =>
              editSpot(spot.id, {
                recipe: { passes: row.passes.map((pass) => ({ ...pass, id: "", locked: false })) },
              })
            }
          >
            use it, outside the layers
          </Button>
        </li>
      ))}
    </ul>
  );
}
