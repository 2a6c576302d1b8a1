import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import type { Place, Role, SeenSpot } from "../../api/client";
import { useMaterials } from "../../api/queries";
import { useEditor, usePiece, useSpots } from "../../document/useEditor";
import { FamilySelect } from "./FamilySelect";
import { PutPicture } from "./PutPicture";
import { newId } from "./task";

/** Places of figures that are described and not seen: each aims for its place in the light that is imagined. */
export function PlainPlaces() {
  const piece = usePiece();
  const { edit } = useEditor();
  const spots = useSpots();
  const { figures } = piece.document;
  const add = () =>
    edit((held) => ({
      ...held,
      spots: [
        ...held.spots,
        {
          id: newId(),
          figure: held.spots.at(-1)?.figure ?? held.figures[0]?.id ?? "",
          name: `Spot ${held.spots.length + 1}`,
          place: "cheek",
          role: "light",
          family: "light",
          x: 0.5,
          y: 0.5,
          radius: 0.01,
          outline: null,
          recipe: null,
          locked: false,
        },
      ],
    }));
  return (
    <main className="plain-places">
      <header>
        <h1>Places to plan</h1>
        <p>
          No picture is needed: each place has the colour that its figure’s skin has there in{" "}
          <Link to={`/complexions?piece=${piece.id}`}>the light you imagined</Link>.
        </p>
      </header>
      <ol aria-label="Places">
        {spots.map((spot, i) => (
          <OnePlace key={spot.id} spot={spot} number={i + 1} figures={figures} />
        ))}
      </ol>
      <footer>
        <Button variant="quiet" onClick={add}>
          one more place
        </Button>
        <PutPicture again />
        <span className="bar-gap" />
        {spots.length > 0 && (
          <Link className="btn btn-act btn-deed" to={`/pieces/${piece.id}/mix`}>
            Plan the layers
          </Link>
        )}
      </footer>
    </main>
  );
}

type Props = { spot: SeenSpot; number: number; figures: { id: string; name: string }[] };

function OnePlace({ spot, number, figures }: Props) {
  const { edit, editSpot } = useEditor();
  const materials = useMaterials().data;
  const swatch = spot.reading?.swatch;
  const named = (place: string) => (/^Spot \d+$/.test(spot.name) ? { name: place } : {});
  return (
    <li>
      <b className="numbers">{number}</b>
      <i className="plain-swatch" style={{ background: swatch?.hex }} />
      <span className="numbers">
        {swatch?.value.toFixed(1) ?? "–"}
        {spot.beyond ? "!" : ""}
      </span>
      {figures.length > 1 && (
        <Form.Select
          size="sm"
          aria-label={`Figure of place ${number}`}
          value={spot.figure}
          onChange={(event) => editSpot(spot.id, { figure: event.target.value })}
        >
          {figures.map((row) => (
            <option key={row.id} value={row.id}>
              {row.name}
            </option>
          ))}
        </Form.Select>
      )}
      <Form.Select
        size="sm"
        aria-label={`Place ${number}`}
        value={spot.place}
        onChange={(event) =>
          editSpot(spot.id, { place: event.target.value as Place, ...named(event.target.value) })
        }
      >
        {materials?.places.map((place) => (
          <option key={place}>{place}</option>
        ))}
      </Form.Select>
      <FamilySelect spot={spot} />
      <Form.Select
        size="sm"
        aria-label={`Role of place ${number}`}
        value={spot.role}
        onChange={(event) => editSpot(spot.id, { role: event.target.value as Role })}
      >
        {materials?.roles.map((role) => (
          <option key={role}>{role}</option>
        ))}
      </Form.Select>
      <span className="plain-name" title={spot.beyond}>
        {spot.name}
      </span>
      <Button
        variant="quiet"
        size="sm"
        aria-label={`Remove ${spot.name}`}
        onClick={() => edit((held) => ({ ...held, spots: held.spots.filter((row) => row.id !== spot.id) }))}
      >
        remove
      </Button>
    </li>
  );
}
