import { Button } from "react-bootstrap";
import type { Figure, SeenSpot, Study } from "../../api/client";
import { counted } from "../../document/layers";

type Props = {
  figure: Figure;
  /** Of this figure. */
  spots: SeenSpot[];
  study: Study | undefined;
  onSelect: (id: string) => void;
};

/** What is seen of a figure in a sentence, and which of its places to look at twice. */
export function FigureSeen({ figure, spots, study, onSelect }: Props) {
  const found = study?.figures.find((row) => row.id === figure.id);
  const read = spots.filter((spot) => spot.reading);
  const value = (spot: SeenSpot) => spot.reading?.swatch.value ?? 0;
  const lightest = read.reduce<SeenSpot | null>((a, b) => (a && value(a) >= value(b) ? a : b), null);
  const darkest = read.reduce<SeenSpot | null>((a, b) => (a && value(a) <= value(b) ? a : b), null);
  const doubtful = spots.filter((spot) => {
    const seen = study?.spots.find((row) => row.id === spot.id);
    return spot.reading?.straddles || seen?.doubt || seen?.seen_as;
  });
  return (
    <header className="figure-seen">
      <h2 className="h4">
        {figure.name}, {counted(spots.length, "place")}
      </h2>
      {lightest && darkest && (
        <p>
          {found?.complexion && (
            <span className="words">
              {found.complexion.depth}, {found.complexion.undertone}.
            </span>
          )}{" "}
          Lightest at <b>{lightest.name}</b>, darkest at <b>{darkest.name}</b>.
        </p>
      )}
      {doubtful.length > 0 && (
        <p>
          Look twice:{" "}
          {doubtful.map((spot) => (
            <Button key={spot.id} variant="quiet" size="sm" onClick={() => onSelect(spot.id)}>
              {spot.name}
            </Button>
          ))}
        </p>
      )}
    </header>
  );
}
