import { Button } from "react-bootstrap";
import { Link } from "react-router";
import type { Piece } from "../../api/client";
import { comparedUrl, correctionUrl, useAdvice, useCompared, useComparisons } from "../../api/comparing";

/** The last comparison on paper: both pictures, what was seen, and what to do, to be ticked with a pencil. */
export function ComparisonPage({ piece }: { piece: Piece }) {
  const rows = useComparisons(piece.id);
  const last = rows.data?.rows.at(-1)?.id;
  const compared = useCompared(last);
  const advice = useAdvice(last, piece.keys.sheet);
  const back = (
    <Link to={`/pieces/${piece.id}/compare`} className="btn btn-quiet">
      Back
    </Link>
  );
  if (rows.data && !last)
    return (
      <main className="print">
        <div className="print-tools">{back}</div>
        <p>No drawing of this piece has been photographed yet.</p>
      </main>
    );
  if (!compared.data || advice.isPending) return <main className="wait">Putting it together …</main>;
  const { id, made, found, close, number } = compared.data;
  return (
    <main className="print">
      <div className="print-tools">
        {back}
        <Button variant="act" onClick={() => window.print()}>
          Print this sheet
        </Button>
      </div>
      <header>
        <h1>{piece.title}</h1>
        <p>
          Photograph {number}, {new Date(made).toLocaleDateString()}: {close} in the mean
        </p>
      </header>
      <div className="print-pair">
        <figure>
          <img src={comparedUrl(id, "drawing", "as_it_is", true, made)} alt="The drawing" />
          <figcaption>drawing</figcaption>
        </figure>
        <figure>
          <img src={comparedUrl(id, "reference", "as_it_is", true, made)} alt="What was to be drawn" />
          <figcaption>picture</figcaption>
        </figure>
      </div>
      <ul>
        {found.map((row) => (
          <li key={row.text}>{row.text}</li>
        ))}
      </ul>
      <ol className="print-layers">
        {(advice.data?.corrections ?? []).map((row) => (
          <li key={row.number}>
            <span className="print-maps">
              <img src={correctionUrl(id, row.number, "map", true)} alt={`Where it goes: ${row.area}`} />
            </span>
            <div>
              <h2>
                ☐ {row.stick} {row.name}
              </h2>
              <p>
                {row.title}: {row.area}, {row.how}.
              </p>
            </div>
          </li>
        ))}
      </ol>
      {advice.data?.nothing.map((row) => (
        <p key={row.text}>
          {row.text} {row.caution}
        </p>
      ))}
    </main>
  );
}
