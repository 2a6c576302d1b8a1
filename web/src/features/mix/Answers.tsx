import { Button } from "react-bootstrap";
import { type Answer, server } from "../../api/client";
import { problemOf, useWrite } from "../../api/mutations";
import { usePiece } from "../../document/useEditor";
import { Pair } from "../../ui/Swatch";

type Props = { spot: string; onTake: (answer: Answer) => void };

/** Other good recipes for the spot, each to be taken over. */
export function Answers({ spot, onTake }: Props) {
  const piece = usePiece();
  const ask = useWrite(() => server.answers(piece.id, spot));
  const problem = problemOf(ask.error, "");
  if (!ask.data) {
    return (
      <>
        <Button variant="quiet" size="sm" disabled={ask.isPending} onClick={() => ask.mutate(undefined)}>
          Other answers
        </Button>
        {problem && (
          <p className="problem" role="alert">
            {problem}
          </p>
        )}
      </>
    );
  }
  return (
    <ul className="answers" aria-label="Other answers">
      {ask.data.map((row) => (
        <li key={row.kind}>
          {row.outcome.target && row.outcome.result && (
            <Pair target={row.outcome.target} result={row.outcome.result} />
          )}
          <span>
            <b>{row.kind}</b>{" "}
            <span className="numbers">
              off by {row.outcome.delta_e?.toFixed(1)}, {row.passes.map((pass) => pass.stick).join(" · ")}
            </span>
          </span>
          <Button variant="quiet" size="sm" onClick={() => onTake(row)} aria-label={`Take ${row.kind}`}>
            take
          </Button>
        </li>
      ))}
    </ul>
  );
}
