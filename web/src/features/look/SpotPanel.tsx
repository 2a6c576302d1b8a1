import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { Place, Role, SeenSpot, Study } from "../../api/client";
import { useLimits, useMaterials } from "../../api/queries";
import { useEditor, usePiece } from "../../document/useEditor";
import { Folded } from "../../ui/Folded";
import { SMALLEST } from "../../ui/PictureCanvas";
import { FamilySelect } from "./FamilySelect";
import { Nearby } from "./Nearby";

type Found = Study["spots"][number] | undefined;

type Props = {
  spot: SeenSpot;
  found: Found;
  fine: number;
  colourless: boolean;
  onReshape: (spot: SeenSpot) => void;
  onRemove: (id: string) => void;
};

/** By how much a spot over two colours is drawn together at a time. */
const SMALLER = 0.6;

/** A spot that nobody has named takes the name of its place. */
const renamed = (spot: SeenSpot, place: string) => (/^Spot \d+$/.test(spot.name) ? { name: place } : {});

/** The picked spot: what is there, what is doubtful about it, and what it is called. */
export function SpotPanel({ spot, found, fine, colourless, onReshape, onRemove }: Props) {
  const piece = usePiece();
  const { editSpot } = useEditor();
  const { reading } = spot;
  const warmth = colourless ? "black and white has no temperature" : spot.temperature?.words;
  return (
    <section className="spot-detail" aria-label={spot.name}>
      <Nearby spot={spot} fine={fine} />
      <SpotName key={spot.id} spot={spot} />
      {reading ? (
        <p className="words">
          {reading.swatch.words}
          <span className="hint">{found?.family && `, in the ${found.family}`}</span>
          <span className="hint">{warmth && `, ${warmth}`}.</span>
        </p>
      ) : (
        <p className="hint">
          {piece.document.imagined ? "It lies beside the figure: there is nothing to aim for." : "Reading…"}
        </p>
      )}
      <Doubts spot={spot} found={found} />
      <SpotFields spot={spot} />
      <div className="spot-words">
        <Button variant="quiet" size="sm" onClick={() => onReshape(spot)}>
          {spot.outline ? "Back to a disc" : "Give it corners"}
        </Button>
        {found?.place_outline && (
          <Button
            variant="quiet"
            size="sm"
            onClick={() => editSpot(spot.id, { outline: found.place_outline ?? null })}
          >
            Read the whole {spot.place}
          </Button>
        )}
        <Button variant="quiet" size="sm" onClick={() => onRemove(spot.id)}>
          Remove
        </Button>
      </div>
      {found && (found.note || found.measured) && (
        <Folded word={`about ${spot.place}`}>
          {found.note && (
            <p className="hint">
              {found.note}{" "}
              {found.note_source === "practice" && <span className="source">Practice, not measured.</span>}
            </p>
          )}
          {found.measured && (
            <p className="hint">
              <b>Measured,</b> against forehead and cheek at this depth:{" "}
              <span className="numbers">{found.measured}</span>
            </p>
          )}
        </Folded>
      )}
      {reading && (
        <Folded word="numbers">
          <p className="hint numbers">
            Value {reading.swatch.value.toFixed(1)}, chroma {reading.swatch.chroma.toFixed(0)}, hue{" "}
            {reading.swatch.hue_deg.toFixed(0)}°, spread {reading.spread.toFixed(1)}.
            {found?.balanced && ` Balanced: ${found.balanced.words}.`}
          </p>
        </Folded>
      )}
    </section>
  );
}

function SpotName({ spot }: { spot: SeenSpot }) {
  const { editSpot } = useEditor();
  const limits = useLimits();
  const [name, setName] = useState<string | null>(null);
  const finish = () => {
    const text = name?.trim();
    if (text && text !== spot.name) editSpot(spot.id, { name: text });
    setName(null);
  };
  return (
    <Form.Control
      className="spot-title"
      aria-label="Name of the spot"
      maxLength={limits.name}
      value={name ?? spot.name}
      onChange={(event) => setName(event.target.value)}
      onBlur={finish}
      onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
    />
  );
}

/** What does not fit together about a spot, each with what would mend it. */
function Doubts({ spot, found }: { spot: SeenSpot; found: Found }) {
  const { editSpot } = useEditor();
  return (
    <>
      {spot.reading?.straddles && (
        <p className="doubt">
          Two colours meet in this spot, so its mean is neither.{" "}
          {spot.outline ? (
            "Draw its corners in."
          ) : (
            <Button
              variant="quiet"
              size="sm"
              disabled={spot.radius <= SMALLEST}
              onClick={() => editSpot(spot.id, { radius: Math.max(SMALLEST, spot.radius * SMALLER) })}
            >
              Make it smaller
            </Button>
          )}
        </p>
      )}
      {found?.seen_as && (
        <p className="doubt">
          It lies on the {found.seen_as}.{" "}
          <Button
            variant="quiet"
            size="sm"
            onClick={() =>
              editSpot(spot.id, { place: found.seen_as as Place, ...renamed(spot, found.seen_as) })
            }
          >
            Call it {found.seen_as}
          </Button>
        </p>
      )}
      {found?.doubt && <p className="doubt">{found.doubt}</p>}
      {spot.beyond && <p className="doubt">{spot.beyond}</p>}
    </>
  );
}

function SpotFields({ spot }: { spot: SeenSpot }) {
  const { document } = usePiece();
  const { editSpot } = useEditor();
  const materials = useMaterials().data;
  return (
    <div className="spot-fields">
      <Form.Select
        size="sm"
        aria-label="Light role"
        value={spot.role}
        onChange={(event) => editSpot(spot.id, { role: event.target.value as Role })}
      >
        {materials?.roles.map((role) => (
          <option key={role}>{role}</option>
        ))}
      </Form.Select>
      <Form.Select
        size="sm"
        aria-label="Place"
        value={spot.place}
        onChange={(event) => editSpot(spot.id, { place: event.target.value as Place })}
      >
        {materials?.places.map((place) => (
          <option key={place}>{place}</option>
        ))}
      </Form.Select>
      {document.imagined && document.picture !== document.imagined.sheet && (
        <FamilySelect spot={spot} ofPicture />
      )}
      {document.figures.length > 1 && (
        <Form.Select
          size="sm"
          aria-label="Figure of the spot"
          value={spot.figure}
          onChange={(event) => editSpot(spot.id, { figure: event.target.value })}
        >
          {document.figures.map((figure) => (
            <option key={figure.id} value={figure.id}>
              {figure.name}
            </option>
          ))}
        </Form.Select>
      )}
    </div>
  );
}
