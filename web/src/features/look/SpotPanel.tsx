import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { Place, Role, SeenSpot, Study } from "../../api/client";
import { useLimits, useMaterials } from "../../api/queries";
import { useEditor, usePiece, useSpots } from "../../document/useEditor";
import { FigureMark } from "../../ui/FigureMark";
import { RoleMark } from "../../ui/RoleMark";
import { Chip } from "../../ui/Swatch";
import { FamilySelect } from "./FamilySelect";

type Found = Study["spots"][number] | undefined;

type Props = {
  spot: SeenSpot | null;
  number: number;
  found: Found;
  colourless: boolean;
  outlining: boolean;
  onOutline: () => void;
  onReshape: (spot: SeenSpot) => void;
  onSelect: (id: string) => void;
  onRemove: (id: string) => void;
  withList: boolean;
};

/** The chosen spot in words and numbers, and the list of all if there is room. */
export function SpotPanel(props: Props) {
  const { spot, outlining, onSelect, withList } = props;
  return (
    <>
      {spot ? (
        <SpotDetail key={spot.id} {...props} spot={spot} />
      ) : (
        <div className="empty-small">
          <h2 className="h5">Look closely</h2>
          <p>
            Click on the lightest light, the darkest dark, and wherever one colour gives way to the next. Each
            click drops a spot and reads its true colour. Or let Caltin suggest spots under People.
          </p>
        </div>
      )}
      <div className="tools">
        <Button
          variant={outlining ? "chosen" : "quiet"}
          size="sm"
          aria-pressed={outlining}
          onClick={props.onOutline}
        >
          {outlining ? "Draw around the area" : "Outline an area"}
        </Button>
      </div>
      {withList && <SpotList selected={spot?.id ?? null} onSelect={onSelect} />}
    </>
  );
}

/** All spots, each with its mark, colour and value. */
export function SpotList({
  selected,
  onSelect,
}: {
  selected: string | null;
  onSelect: (id: string) => void;
}) {
  const piece = usePiece();
  const { figures } = piece.document;
  const spots = useSpots();
  return (
    <ol className="spot-list" aria-label="All spots">
      {spots.map((row, i) => (
        <li key={row.id}>
          <button
            type="button"
            className={row.id === selected ? "is-selected" : ""}
            onClick={() => onSelect(row.id)}
          >
            <span className="numbers">{i + 1}</span>
            <RoleMark role={row.role} />
            {row.reading ? (
              <span className="stick-dot" style={{ background: row.reading.swatch.hex }} />
            ) : (
              <span className="stick-dot is-none" />
            )}
            <span className="spot-name">
              {figures.length > 1 && (
                <FigureMark index={figures.findIndex((figure) => figure.id === row.figure)} size={12} />
              )}{" "}
              {row.name}
            </span>
            <span className="numbers" title={row.beyond}>
              {row.reading?.swatch.value.toFixed(1) ?? "–"}
              {row.beyond ? "!" : ""}
            </span>
          </button>
        </li>
      ))}
    </ol>
  );
}

/** A spot that nobody has named takes the name of its place. */
const renamed = (spot: SeenSpot, place: string) => (/^Spot \d+$/.test(spot.name) ? { name: place } : {});

function SpotDetail({ spot, number, found, colourless, onReshape, onRemove }: Props & { spot: SeenSpot }) {
  const piece = usePiece();
  const { editSpot } = useEditor();
  const limits = useLimits();
  const materials = useMaterials();
  const [name, setName] = useState<string | null>(null);
  const reading = spot.reading;
  const finish = () => {
    const text = name?.trim();
    if (text && text !== spot.name) editSpot(spot.id, { name: text });
    setName(null);
  };
  return (
    <section className="spot-detail" aria-label={`Spot ${number}`}>
      <div className="spot-head">
        <b className="numbers">{number}</b>
        <Form.Control
          size="sm"
          aria-label="Name of the spot"
          maxLength={limits.name}
          value={name ?? spot.name}
          onChange={(event) => setName(event.target.value)}
          onBlur={finish}
          onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
        />
        <Button variant="quiet" size="sm" onClick={() => onRemove(spot.id)}>
          Remove
        </Button>
      </div>
      {reading ? (
        <>
          <Chip swatch={reading.swatch} tall />
          <p className="words">{reading.swatch.words}</p>
          <p className="hint">
            {found?.family ? `In the ${found.family}, ` : ""}
            {colourless
              ? "black and white has no temperature. "
              : spot.temperature
                ? `${spot.temperature.words}. `
                : ""}
            <span className="numbers">
              Chroma {reading.swatch.chroma.toFixed(0)}, hue {reading.swatch.hue_deg.toFixed(0)}°, spread{" "}
              {reading.spread.toFixed(1)}.
            </span>
            {found?.balanced && ` Balanced: ${found.balanced.words}.`}
          </p>
          {reading.straddles && (
            <p className="doubt">
              Two colours meet in this spot, so its mean is neither. Move it or make it smaller.
            </p>
          )}
          {found?.seen_as && (
            <p className="hint">
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
      ) : (
        <p className="hint">
          {piece.document.imagined ? "It lies beside the figure: there is nothing to aim for." : "Reading…"}
        </p>
      )}
      {found?.note && (
        <p className="hint usual">
          <b>{spot.place}:</b> {found.note}{" "}
          {found.note_source === "practice" && <span className="source">Practice, not measured.</span>}
        </p>
      )}
      {found?.measured && (
        <p className="hint">
          <b>Measured,</b> against forehead and cheek at this depth:{" "}
          <span className="numbers">{found.measured}</span>
        </p>
      )}
      <div className="spot-fields">
        <Form.Select
          size="sm"
          aria-label="Light role"
          value={spot.role}
          onChange={(event) => editSpot(spot.id, { role: event.target.value as Role })}
        >
          {materials.data?.roles.map((role) => (
            <option key={role}>{role}</option>
          ))}
        </Form.Select>
        <Form.Select
          size="sm"
          aria-label="Place"
          value={spot.place}
          onChange={(event) => editSpot(spot.id, { place: event.target.value as Place })}
        >
          {materials.data?.places.map((place) => (
            <option key={place}>{place}</option>
          ))}
        </Form.Select>
        {piece.document.imagined && piece.document.picture !== piece.document.imagined.sheet && (
          <FamilySelect spot={spot} ofPicture />
        )}
        {piece.document.figures.length > 1 && (
          <Form.Select
            size="sm"
            aria-label="Figure of the spot"
            value={spot.figure}
            onChange={(event) => editSpot(spot.id, { figure: event.target.value })}
          >
            {piece.document.figures.map((figure) => (
              <option key={figure.id} value={figure.id}>
                {figure.name}
              </option>
            ))}
          </Form.Select>
        )}
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
      </div>
    </section>
  );
}
