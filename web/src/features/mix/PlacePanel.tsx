import { Button, Form } from "react-bootstrap";
import { type Schemas, type SeenSpot, type Stick, server } from "../../api/client";
import { problemOf, useWrite } from "../../api/mutations";
import { useMaterials } from "../../api/queries";
import { inWords, type Layer, type Level } from "../../document/layers";
import { useEditing, useEditor, usePiece } from "../../document/useEditor";
import { Pair, StickDot } from "../../ui/Swatch";
import { useNoun } from "../../ui/useNoun";
import { ExactHere } from "./ExactHere";
import { byMap, ownLayers, setAt } from "./edits";

const named = ({ pressure, repeats, flicked }: Level) => `${pressure} ${repeats}${flicked ? " flicked" : ""}`;

type Props = {
  spot: SeenSpot;
  sticks: Stick[];
  endings: Record<string, Schemas["Ending"]>;
  /** Of the figure; none as long as there are none. */
  maps: Schemas["LayerMap"][];
};

/** One place: wanted and planned, what each layer gives it, and an accent of its own. */
export function PlacePanel({ spot, sticks, endings, maps }: Props) {
  const piece = usePiece();
  const { take } = useEditor();
  const busy = useEditing((state) => state.busy);
  const media = useMaterials().data?.media ?? [];
  const layers = ownLayers(piece.document, spot.figure);
  const noun = useNoun(sticks);
  const accent = useWrite(
    () => server.accent(piece.id, spot.id),
    [],
    (plan) =>
      take(
        spot.figure,
        plan.layers.map((row) => row.layer),
      ),
  );
  const problem = problemOf(accent.error, "");
  const { outcome } = spot;
  const ending = endings[spot.id];
  if (spot.recipe) return <OldRecipe spot={spot} sticks={sticks} />;
  return (
    <section className="place-panel" aria-label={`What the layers give at ${spot.name}`}>
      <h2 className="h4">{spot.name}</h2>
      {outcome?.target && outcome.result && <Pair target={outcome.target} result={outcome.result} tall />}
      {ending && (
        <p className="hint">
          On paper between value {ending.low.toFixed(1)} and {ending.high.toFixed(1)}: what a hand spoils, and
          what nobody knows yet of an untried {noun}.
        </p>
      )}
      <ol className="place-layers">
        {layers.map((layer) => (
          <LayerHere
            key={layer.id}
            layer={layer}
            level={byMap(layer, maps).levels[spot.id] ?? null}
            stick={sticks.find((row) => row.code === layer.stick)}
            pressures={
              media.find((row) => row.id === sticks.find((s) => s.code === layer.stick)?.medium)?.pressures
            }
            disabled={busy}
            onSet={(level) => {
              const shown = layers.map((row) => (row.id === layer.id ? byMap(row, maps) : row));
              take(spot.figure, setAt(shown, layer.id, spot.id, level));
            }}
          />
        ))}
      </ol>
      {spot.beyond && <p>{spot.beyond}</p>}
      {outcome?.cautions.map((caution) => (
        <p key={caution.code + caution.text} className="caution">
          {caution.text}
        </p>
      ))}
      {outcome?.trouble && (
        <p className="problem" role="alert">
          {outcome.trouble}
        </p>
      )}
      <p className="picked-acts">
        <Button
          variant="quiet"
          size="sm"
          disabled={busy || accent.isPending}
          onClick={() => accent.mutate(undefined)}
        >
          {accent.isPending ? "trying …" : "an accent here alone"}
        </Button>
      </p>
      <ExactHere spot={spot} />
      {problem && (
        <p className="problem" role="alert">
          {problem}
        </p>
      )}
    </section>
  );
}

type HereProps = {
  layer: Layer;
  /** What lies here of it: by its map, if there is one. */
  level: Level | null;
  stick: Stick | undefined;
  pressures: string[] | undefined;
  disabled: boolean;
  onSet: (level: Level | null) => void;
};

/** What one layer gives a place, to be chosen anew. */
function LayerHere({ layer, level, stick, pressures, disabled, onSet }: HereProps) {
  const inked = stick?.medium === "marker";
  const fixed = layer.technique === "burnish" || layer.technique === "smudge" || !pressures;
  const doses: Level[] = [
    ...(inked ? [{ pressure: "light", repeats: 1, flicked: true }] : []),
    ...(pressures ?? []).flatMap((pressure) =>
      [1, 2, 3].map((repeats) => ({ pressure, repeats, flicked: false })),
    ),
  ];
  return (
    <li className={level ? "" : "is-bare"}>
      <StickDot hex={stick?.swatch.hex ?? "transparent"} />
      <span>
        <b>{layer.stick}</b> {stick?.name}
      </span>
      {fixed ? (
        <span>{level ? inWords(level, layer.technique, inked) : "not here"}</span>
      ) : (
        <Form.Select
          size="sm"
          aria-label={`${layer.stick} here`}
          disabled={disabled}
          value={level ? named(level) : ""}
          onChange={(event) => onSet(doses.find((dose) => named(dose) === event.target.value) ?? null)}
        >
          <option value="">not here</option>
          {doses.map((dose) => (
            <option key={named(dose)} value={named(dose)}>
              {inWords(dose, layer.technique, inked)}
            </option>
          ))}
        </Form.Select>
      )}
    </li>
  );
}

/** A recipe made for this spot alone, before there were layers: to be read, until the figure is planned in layers. */
function OldRecipe({ spot, sticks }: { spot: SeenSpot; sticks: Stick[] }) {
  const { plan, editSpot } = useEditor();
  const busy = useEditing((state) => state.busy);
  const layered = usePiece().document.layers.length > 0;
  const { outcome, recipe } = spot;
  return (
    <section className="place-panel" aria-label={`Recipe of ${spot.name}`}>
      <h2 className="h4">{spot.name}</h2>
      <p className="hint">A recipe of its own, outside the layers.</p>
      {outcome?.target && outcome.result && <Pair target={outcome.target} result={outcome.result} tall />}
      <ol className="place-layers">
        {recipe?.passes.map((pass) => {
          const stick = sticks.find((row) => row.code === pass.stick);
          return (
            <li key={pass.id}>
              <StickDot hex={stick?.swatch.hex ?? "transparent"} />
              <span>
                <b>{pass.stick}</b> {stick?.name}
              </span>
              <span>
                {inWords(
                  { ...pass, flicked: pass.technique === "flick" },
                  pass.technique,
                  stick?.medium === "marker",
                )}
              </span>
            </li>
          );
        })}
      </ol>
      {outcome?.trouble ? (
        <p className="problem" role="alert">
          {outcome.trouble}
        </p>
      ) : (
        <p>{outcome?.why}</p>
      )}
      <p className="picked-acts">
        <Button variant={layered ? "quiet" : "act"} disabled={busy} onClick={() => plan([spot.figure], 0)}>
          Plan in layers
        </Button>
        <Button
          variant="quiet"
          size="sm"
          aria-pressed={spot.locked}
          onClick={() => editSpot(spot.id, { locked: !spot.locked })}
        >
          {spot.locked ? "no longer keep it" : "keep it when planning"}
        </Button>
      </p>
    </section>
  );
}
