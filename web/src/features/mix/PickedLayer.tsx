import { useState } from "react";
import { Button } from "react-bootstrap";
import type { Figure, Schemas, Stick } from "../../api/client";
import { layerMapUrl } from "../../api/pictures";
import { inWords, type Layer, TOOLS } from "../../document/layers";
import { useEditing, usePiece } from "../../document/useEditor";
import { useView } from "../../document/useView";
import { Crop } from "../../ui/Crop";
import { Doses } from "../../ui/Doses";
import { useKeys } from "../../ui/keys";
import { useNoun } from "../../ui/useNoun";
import { canSplit } from "./edits";
import { OtherSticks } from "./OtherSticks";

export type LayerEdit = "harder" | "softer" | "more" | "less" | "lock" | "split" | "remove" | "fit";

type Props = {
  /** How far off hands are with the plan as it is, in ΔE00. */
  now: number;
  figure: Figure;
  layer: Layer;
  number: number;
  stick: Stick | undefined;
  sticks: Stick[];
  said: Schemas["ToldLayer"] | undefined;
  map: ({ name: string } & Pick<Schemas["LayerMap"], "doses" | "where">) | null;
  /** Whether another stick is asked for at once. */
  swap: boolean;
  /** Whether its places are being brushed on the picture. */
  brushing: boolean;
  onBrush: (brushing: boolean) => void;
  onEdit: (edit: LayerEdit) => void;
  onTake: (layers: Layer[]) => void;
};

/** The one layer that is looked at: where it goes, what it is for, and everything that can be done to it. */
const NO_MAP = "Without a picture there is no map; the places are named on its card.";

export function PickedLayer(props: Props) {
  const { now, figure, layer, number, stick, sticks, said, map, brushing, onBrush, onEdit, onTake } = props;
  const noun = useNoun(stick ? [stick] : []);
  const piece = usePiece();
  const busy = useEditing((state) => state.busy);
  const [swapping, setSwapping] = useState(props.swap);
  const view = useView(figure.id);
  useKeys([{ key: "x", does: `Try another ${noun} in this layer`, run: () => setSwapping(true) }]);
  const inked = stick?.medium === "marker";
  const tool = TOOLS.includes(layer.stick);
  const laid = layer.technique !== "burnish" && layer.technique !== "smudge";
  const act = (edit: LayerEdit, words: string, wanted = true) =>
    wanted && (
      <Button variant="quiet" size="sm" disabled={busy} onClick={() => onEdit(edit)}>
        {words}
      </Button>
    );
  return (
    <section className="picked-layer" aria-label={`Layer ${number}`}>
      {map ? (
        <Crop url={layerMapUrl(piece, [map.name], layer.id)} alt="Where it goes" view={view} />
      ) : (
        <span className="layers-wait hint">{piece.picture ? "Drawing the map …" : NO_MAP}</span>
      )}
      <div className="picked-words">
        <span className="hint">Layer {number} goes here</span>
        <h3 className="h5">
          {layer.stick} {stick?.name}
        </h3>
        <p>{said?.why}</p>
        {map && (
          <Doses doses={map.doses.map((dose) => inWords(dose, layer.technique, inked))} where={map.where} />
        )}
        <p className="hint">{said?.without}</p>
        <div className="picked-acts" role="group" aria-label="Change this layer">
          {!tool && (
            <Button
              variant="quiet"
              size="sm"
              aria-expanded={swapping}
              disabled={busy}
              onClick={() => setSwapping(!swapping)}
            >
              another {noun}
            </Button>
          )}
          <Button
            variant={brushing ? "chosen" : "quiet"}
            size="sm"
            aria-pressed={brushing}
            onClick={() => onBrush(!brushing)}
          >
            {brushing ? "done with where" : "edit where"}
          </Button>
          {act("softer", "softer", laid && !inked)}
          {act("harder", "harder", laid && !inked)}
          {act("less", inked ? "a coat less" : "once less", laid)}
          {act("more", inked ? "a coat more" : "once more", laid)}
          {act("split", "split light and shade", canSplit(piece.document, layer))}
          {act("lock", layer.locked ? "let it change" : "keep as it is")}
          {act("fit", "fit the others to it", layer.locked)}
          {act("remove", "remove")}
        </div>
      </div>
      {swapping && (
        <OtherSticks
          now={now}
          figure={figure}
          layer={layer}
          sticks={sticks}
          onTake={(layers) => {
            setSwapping(false);
            onTake(layers);
          }}
          onClose={() => setSwapping(false)}
        />
      )}
    </section>
  );
}
