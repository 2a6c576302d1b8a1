import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { FigureStudy, Spot, Study } from "../../api/client";
import { useLimits } from "../../api/queries";
import { useEditor, usePiece } from "../../document/useEditor";
import { Confirm } from "../../ui/Confirm";
import { FigureMark } from "../../ui/FigureMark";
import { Folded } from "../../ui/Folded";
import { LaidColour } from "../../ui/Swatch";
import { ProposalBox } from "./ProposalBox";
import type { Painting, Proposal } from "./proposal";
import { newId } from "./task";

const signed = (degrees: number) => degrees.toFixed(0).replace("-", "−");

export type PeopleProps = {
  figure: string;
  onFigure: (id: string) => void;
  study: Study | undefined;
  painting: Painting;
  onPaint: (painting: Painting) => void;
  /** The chosen spot, whose place can be called skin or not. */
  chosen: Spot | null;
  onSpot: (add: boolean) => void;
  onClear: () => void;
  proposal: Proposal | null;
  busy: boolean;
  problem: string;
  onSuggest: () => void;
  /** Take a proposed spot, or leave it out. */
  onToggle: (index: number) => void;
  onNotAFace: (figure: string) => void;
};

const WIDTHS = [0.006, 0.012, 0.025, 0.05];

/** The figures with their complexions, the skin to correct, and the proposal of spots. */
export function PeoplePanel(props: PeopleProps) {
  const { figure, onFigure, study, proposal } = props;
  const piece = usePiece();
  const { edit } = useEditor();
  const limits = useLimits();
  const { figures, spots } = piece.document;
  const [leaving, setLeaving] = useState(false);
  const current = figures.find((row) => row.id === figure) ?? figures[0];
  const add = () => {
    const id = newId();
    const name = `Figure ${figures.length + 1}`;
    edit((held) => ({ ...held, figures: [...held.figures, { id, name, face: null, strokes: [] }] }));
    onFigure(id);
  };
  const remove = () => {
    edit((held) => ({
      ...held,
      figures: held.figures.filter((row) => row.id !== figure),
      spots: held.spots.filter((spot) => spot.figure !== figure),
    }));
    onFigure(figures.find((row) => row.id !== figure)?.id ?? "");
    setLeaving(false);
  };
  if (proposal) return <ProposalBox {...props} proposal={proposal} />;
  return (
    <>
      <section className="panel-box">
        <p className="hint">
          Caltin finds faces and skin, and proposes places from highlight to deepest accent.
        </p>
        {spots.length > 0 && (
          <Button variant="quiet" size="sm" onClick={props.onSuggest} disabled={props.busy}>
            {props.busy ? "Looking for skin…" : "Suggest spots"}
          </Button>
        )}
        {(props.problem || study?.trouble) && (
          <p className="doubt" role="status">
            {props.problem || study?.trouble}
          </p>
        )}
      </section>
      <section className="panel-box" aria-label="Figures">
        <ul className="figure-list">
          {figures.map((row, i) => (
            <FigureRow
              key={row.id}
              index={i}
              id={row.id}
              name={row.name}
              chosen={row.id === current?.id}
              found={study?.figures.find((found) => found.id === row.id)}
              onChoose={() => onFigure(row.id)}
              onNotAFace={() => props.onNotAFace(row.id)}
            />
          ))}
        </ul>
        {study?.figures.some((row) => row.complexion) && (
          <p className="hint">
            Depth and undertone are read from the picture{" "}
            {piece.document.balance
              ? "balanced on your grey."
              : "as photographed, in what seems to be daylight."}
          </p>
        )}
        <div className="tools">
          <Button variant="quiet" size="sm" onClick={add} disabled={figures.length >= (limits.figures ?? 0)}>
            One more person
          </Button>
          <Button
            variant="quiet"
            size="sm"
            disabled={figures.length < 2}
            onClick={() => (spots.some((spot) => spot.figure === figure) ? setLeaving(true) : remove())}
          >
            Remove {current?.name}
          </Button>
        </div>
      </section>
      <section className="panel-box" aria-label="Skin by hand">
        <h2 className="h6">Skin of {current?.name}, by hand</h2>
        <div className="tools">
          <fieldset className="segments" aria-label="Stroke">
            {[true, false].map((adding) => (
              <Button
                key={String(adding)}
                size="sm"
                variant={props.painting?.add === adding ? "chosen" : "quiet"}
                aria-pressed={props.painting?.add === adding}
                onClick={() =>
                  props.onPaint(
                    props.painting?.add === adding
                      ? null
                      : { add: adding, radius: props.painting?.radius ?? 0.012 },
                  )
                }
              >
                {adding ? "Add skin" : "Remove skin"}
              </Button>
            ))}
          </fieldset>
          {props.painting && (
            <Form.Select
              size="sm"
              aria-label="Width of the stroke"
              value={props.painting.radius}
              onChange={(event) =>
                props.painting && props.onPaint({ ...props.painting, radius: Number(event.target.value) })
              }
            >
              {WIDTHS.map((width, i) => (
                <option key={width} value={width}>
                  {["Fine", "Middling", "Broad", "Very broad"][i]} stroke
                </option>
              ))}
            </Form.Select>
          )}
          {props.chosen !== null && (
            <>
              <Button variant="quiet" size="sm" onClick={() => props.onSpot(true)}>
                {props.chosen.name} is skin
              </Button>
              <Button variant="quiet" size="sm" onClick={() => props.onSpot(false)}>
                is not
              </Button>
            </>
          )}
          {current && current.strokes.length > 0 && (
            <Button variant="quiet" size="sm" onClick={props.onClear}>
              Undo all {current.strokes.length} strokes
            </Button>
          )}
        </div>
        <p className="hint">
          {props.painting ? "Paint over the picture." : "Key 7 shows what counts as skin."}
        </p>
      </section>
      <Confirm
        show={leaving}
        title={`Remove ${current?.name}?`}
        text="The spots of this person and their recipes go too. Undo brings all of it back."
        action="Remove"
        onConfirm={remove}
        onCancel={() => setLeaving(false)}
      />
    </>
  );
}

function FigureRow(row: {
  index: number;
  id: string;
  name: string;
  chosen: boolean;
  found: FigureStudy | undefined;
  onChoose: () => void;
  onNotAFace: () => void;
}) {
  const { edit } = useEditor();
  const limits = useLimits();
  const [name, setName] = useState<string | null>(null);
  const finish = () => {
    const text = name?.trim();
    if (text && text !== row.name)
      edit((held) => ({
        ...held,
        figures: held.figures.map((figure) => (figure.id === row.id ? { ...figure, name: text } : figure)),
      }));
    setName(null);
  };
  const { found } = row;
  return (
    <li className={row.chosen ? "is-selected" : ""}>
      <div className="figure-head">
        <Button
          variant={row.chosen ? "chosen" : "quiet"}
          size="sm"
          aria-pressed={row.chosen}
          aria-label={`New spots belong to ${row.name}`}
          onClick={row.onChoose}
        >
          <FigureMark index={row.index} />
        </Button>
        <Form.Control
          size="sm"
          aria-label="Name of the figure"
          maxLength={limits.name}
          value={name ?? row.name}
          onFocus={row.onChoose}
          onChange={(event) => setName(event.target.value)}
          onBlur={finish}
          onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
        />
        {found?.average && <LaidColour swatch={found.average} label="Its skin on average" />}
      </div>
      {found?.complexion ? (
        <p className="hint">
          {found.complexion.depth}, {found.complexion.undertone}
          {found.certain ? "" : ": uncertain"}
        </p>
      ) : (
        <p className="hint">
          {found && !found.found ? "No skin marked yet" : found?.untold && `Complexion: ${found.untold}`}
        </p>
      )}
      {found?.complexion && (
        <Folded word="numbers">
          <p className="hint numbers">ITA {signed(found.complexion.ita_deg)}°</p>
        </Folded>
      )}
      {found?.places && <p className="doubt">{found.places}</p>}
      {row.chosen && found?.face && (
        <Button variant="quiet" size="sm" onClick={row.onNotAFace}>
          This is no face
        </Button>
      )}
    </li>
  );
}
