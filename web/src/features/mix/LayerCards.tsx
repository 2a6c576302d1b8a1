import { type KeyboardEvent, useRef, useState } from "react";
import type { Figure, Schemas, Stick } from "../../api/client";
import { layerMapUrl } from "../../api/pictures";
import { inWords, type Layer } from "../../document/layers";
import { usePiece } from "../../document/useEditor";
import { useView } from "../../document/useView";
import { Crop } from "../../ui/Crop";
import { Pressure } from "../../ui/Pressure";
import { Strokes } from "../../ui/Strokes";

/** A card that is lower has no room for two lines of where. */
const FOUR_LINES = 74;

type Props = {
  figure: Figure;
  layers: Layer[];
  told: Schemas["ToldLayer"][];
  sticks: Stick[];
  /** The name of the figure's maps, empty as long as there are none. */
  maps: string;
  picked: string | null;
  /** How many layers are laid. */
  laid: number;
  /** The height of a card, in pixels. */
  tall: number;
  onPick: (layer: string) => void;
  /** So many places later in the order of work, or earlier. */
  onMove: (layer: string, by: number) => void;
};

/** The layers from the last down to the paper: one stop of the Tab key, arrows within; dragged, or moved with Alt. */
export function LayerCards(props: Props) {
  const { figure, layers, told, sticks, maps, picked, laid, tall, onPick, onMove } = props;
  const piece = usePiece();
  const view = useView(figure.id);
  const list = useRef<HTMLOListElement>(null);
  const [drag, setDrag] = useState<{ id: string; from: number; by: number } | null>(null);
  const at = layers.findIndex((layer) => layer.id === picked);
  const focus = (number: number) => {
    const layer = layers[Math.min(layers.length - 1, Math.max(0, number))];
    if (!layer) return;
    onPick(layer.id);
    list.current?.querySelector<HTMLElement>(`[data-layer="${layer.id}"]`)?.focus();
  };
  const keys = (event: KeyboardEvent) => {
    const by = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    const to = by ? at + by : { Home: 0, End: layers.length - 1 }[event.key];
    if (to === undefined) return;
    event.preventDefault();
    if (event.altKey && by && picked) onMove(picked, by);
    else focus(to);
  };
  const moved = drag ? Math.round(-drag.by / tall) : 0;
  return (
    <ol
      className={tall < FOUR_LINES ? "layer-cards is-short" : "layer-cards"}
      reversed
      ref={list}
      aria-label="From the last layer down to the paper"
      onKeyDown={keys}
    >
      {layers
        .map((layer, i) => {
          const stick = sticks.find((row) => row.code === layer.stick);
          const said = told.find((row) => row.id === layer.id);
          const most = said?.most ?? { pressure: "light", repeats: 1, flicked: false };
          const inked = stick?.medium === "marker";
          const held = drag?.id === layer.id;
          return (
            <li
              key={layer.id}
              value={i + 1}
              style={{ height: tall, transform: held ? `translateY(${drag.by}px)` : undefined }}
              className={held ? "is-held" : ""}
            >
              <button
                type="button"
                data-layer={layer.id}
                tabIndex={layer.id === picked || (!picked && i === 0) ? 0 : -1}
                className={`layer-card${layer.id === picked ? " is-picked" : ""}${i >= laid ? " is-later" : ""}`}
                aria-pressed={layer.id === picked}
                onClick={() => onPick(layer.id)}
                onPointerDown={(event) => {
                  if (event.button === 0) setDrag({ id: layer.id, from: event.clientY, by: 0 });
                }}
                onPointerMove={(event) => {
                  if (!drag || !event.buttons) return;
                  const by = event.clientY - drag.from;
                  if (Math.abs(by) > 6) event.currentTarget.setPointerCapture(event.pointerId);
                  setDrag({ ...drag, by });
                }}
                onPointerUp={() => {
                  if (drag && moved) onMove(layer.id, moved);
                  setDrag(null);
                }}
                onPointerCancel={() => setDrag(null)}
              >
                <span className="layer-number">{i + 1}</span>
                <Strokes
                  hex={stick?.swatch.hex ?? "#808080"}
                  pressure={most.pressure}
                  medium={stick?.medium ?? "pencil"}
                />
                <span className="layer-words">
                  <span className="layer-name">
                    <b>{layer.stick}</b> {stick?.name ?? ""} {layer.locked && <em>kept</em>}
                  </span>
                  <span className="layer-how">
                    {said && !inked && <Pressure level={most} />}{" "}
                    {said && inWords(most, layer.technique, inked)}
                  </span>
                  <span className="hint">{said?.area ?? ""}</span>
                </span>
                {maps ? (
                  <Crop
                    url={layerMapUrl(piece, [maps], layer.id, "small")}
                    alt={`Where layer ${i + 1} lies`}
                    view={view}
                  />
                ) : (
                  <span className="layer-map-wait" />
                )}
              </button>
            </li>
          );
        })
        .reverse()}
    </ol>
  );
}
