import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { Place, Role, Spot } from "../../api/client";
import { usePiece } from "../../api/piece";
import { useMaterials } from "../../api/queries";
import { RoleMark } from "../../ui/RoleMark";
import { Chip } from "../../ui/Swatch";

type Props = {
  spot: Spot | null;
  number: number;
  figure: string;
  onFigure: (id: string) => void;
  onSelect: (id: string) => void;
  onRemove: (id: string) => void;
  withList: boolean;
};

/** The chosen spot in words and numbers, whose skin comes next, and the list of all if there is room. */
export function SpotPanel({ spot, number, figure, onFigure, onSelect, onRemove, withList }: Props) {
  return (
    <aside className="spot-panel" aria-label="Spots">
      {spot ? (
        <SpotDetail key={spot.id} spot={spot} number={number} onRemove={onRemove} />
      ) : (
        <div className="empty-small">
          <h2 className="h5">Look closely</h2>
          <p>
            Click on the lightest light, the darkest dark, and wherever one colour gives way to the next. Each
            click drops a spot and reads its true colour.
          </p>
        </div>
      )}
      <Figures figure={figure} onFigure={onFigure} />
      {withList && <SpotList selected={spot?.id ?? null} onSelect={onSelect} />}
    </aside>
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
  const { piece } = usePiece();
  return (
    <ol className="spot-list" aria-label="All spots">
      {piece.document.spots.map((row, i) => (
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
            <span className="spot-name">{row.name}</span>
            <span className="numbers">{row.reading?.swatch.value.toFixed(1) ?? "–"}</span>
          </button>
        </li>
      ))}
    </ol>
  );
}

function SpotDetail({
  spot,
  number,
  onRemove,
}: {
  spot: Spot;
  number: number;
  onRemove: (id: string) => void;
}) {
  const { editSpot, piece } = usePiece();
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
          maxLength={60}
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
            {spot.temperature ? `${spot.temperature.words}. ` : ""}
            <span className="numbers">
              Chroma {reading.swatch.chroma.toFixed(0)}, hue {reading.swatch.hue_deg.toFixed(0)}°, spread{" "}
              {reading.spread.toFixed(1)}
            </span>
          </p>
        </>
      ) : (
        <p className="hint">Reading…</p>
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
      </div>
    </section>
  );
}

/** Whose skin new spots belong to. */
function Figures({ figure, onFigure }: { figure: string; onFigure: (id: string) => void }) {
  const { piece, edit } = usePiece();
  const { figures } = piece.document;
  const current = figures.find((row) => row.id === figure) ?? figures[0];
  const [name, setName] = useState<string | null>(null);
  const add = () => {
    const id = crypto.randomUUID().slice(0, 13);
    edit((held) => ({
      ...held,
      figures: [...held.figures, { id, name: `Figure ${held.figures.length + 1}` }],
    }));
    onFigure(id);
  };
  const finish = () => {
    const text = name?.trim();
    if (text && current) {
      edit((held) => ({
        ...held,
        figures: held.figures.map((row) => (row.id === current.id ? { ...row, name: text } : row)),
      }));
    }
    setName(null);
  };
  return (
    <div className="figures">
      <span className="hint">New spots belong to</span>
      {figures.length > 1 && (
        <Form.Select
          size="sm"
          aria-label="Figure for new spots"
          value={current?.id}
          onChange={(event) => onFigure(event.target.value)}
        >
          {figures.map((row) => (
            <option key={row.id} value={row.id}>
              {row.name}
            </option>
          ))}
        </Form.Select>
      )}
      <Form.Control
        size="sm"
        aria-label="Name of the figure"
        maxLength={60}
        value={name ?? current?.name ?? ""}
        onChange={(event) => setName(event.target.value)}
        onBlur={finish}
        onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
      />
      <Button variant="quiet" size="sm" onClick={add} disabled={figures.length >= 12}>
        One more person
      </Button>
    </div>
  );
}
