import { Button, Form } from "react-bootstrap";
import { FigureMark } from "../../ui/FigureMark";
import type { PeopleProps } from "./PeoplePanel";
import type { Proposal } from "./proposal";

type Props = Pick<PeopleProps, "onToggle" | "onNotAFace"> & { proposal: Proposal };

/** What Caltin proposes: how much for whom, what to look at first, and what is no face. */
export function ProposalBox({ proposal, onToggle, onNotAFace }: Props) {
  const doubtful = proposal.spots.flatMap((spot, i) => (spot.doubt ? [{ spot, i }] : []));
  return (
    <section className="panel-box" aria-label="Proposal">
      <h2 className="h4">{proposal.spots.length} places proposed</h2>
      {proposal.trouble && <p className="doubt">{proposal.trouble}</p>}
      <p className="hint">
        Tap a place on the picture to leave it out. Taken spots can be moved and removed.
      </p>
      <ul className="proposal-list">
        {proposal.figures.map((figure, i) => {
          const mine = proposal.spots.filter((spot) => spot.figure === figure.id);
          return (
            <li key={figure.id}>
              <FigureMark index={i} /> {figure.name}
              {figure.is_new ? " (new)" : ""}: <span className="numbers">{mine.length}</span>{" "}
              {figure.face && (
                <Button
                  variant="quiet"
                  size="sm"
                  aria-label={`${figure.name} is no face`}
                  onClick={() => onNotAFace(figure.id)}
                >
                  No face
                </Button>
              )}
              <span className="proposal-strip">
                {mine.map((spot) => (
                  <span
                    key={`${spot.name} ${spot.x} ${spot.y}`}
                    style={{ background: spot.swatch.hex }}
                    title={`${spot.name}: ${spot.swatch.words}`}
                  />
                ))}
              </span>
            </li>
          );
        })}
      </ul>
      {doubtful.length > 0 && (
        <>
          <h3 className="h6">Look at these first</h3>
          <ul className="doubt-list">
            {doubtful.map(({ spot, i }) => (
              <li key={`${spot.name} ${spot.x} ${spot.y}`}>
                <Form.Check
                  id={`doubtful-${i}`}
                  checked={!proposal.dropped.has(i)}
                  onChange={() => onToggle(i)}
                  label={
                    <>
                      <b>
                        {proposal.figures.length > 1 &&
                          `${proposal.figures.find((row) => row.id === spot.figure)?.name ?? ""}, `}
                        {spot.name}
                      </b>{" "}
                      {spot.doubt}
                    </>
                  }
                />
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}
