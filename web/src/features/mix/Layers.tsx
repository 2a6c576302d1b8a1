import { Button } from "react-bootstrap";
import { Link } from "react-router";
import { type Figure, layerMapUrl, type Schemas, type Stick } from "../../api/client";
import { useLayers, useMaps, usePlans } from "../../api/queries";
import { useEditing, useEditor, usePiece } from "../../document/useEditor";
import { Crop } from "../../ui/Crop";
import { Segments } from "../../ui/Segments";
import { Strokes } from "../../ui/Strokes";
import { closeness } from "./closeness";
import { useView } from "./useView";

type Layer = Schemas["PlannedLayer"];
type Level = Schemas["Level"];

const TOOLS = ["stump", "putty", "blade"];
const TIMES = ["", "once", "twice", "three times"];
const COATS = ["", "one coat", "two coats", "three coats"];
const PRESSURES = ["light", "medium", "heavy"];

/** The layers that lie over a figure, in working order. */
export function layersOf(document: Schemas["Document"], figure: string): Layer[] {
  const mine = new Set(document.spots.filter((spot) => spot.figure === figure).map((spot) => spot.id));
  return document.layers.filter((layer) =>
    Object.entries(layer.levels).some(([spot, level]) => level && mine.has(spot)),
  );
}

/** How hard and how often a layer is laid at most, over the spots of a figure. */
function most(layer: Layer): Level {
  const levels = Object.values(layer.levels).filter((level) => level !== null);
  const weight = ({ pressure, repeats, flicked }: Level) =>
    PRESSURES.indexOf(pressure) * 10 + repeats - (flicked ? 0.5 : 0);
  return levels.reduce((held, level) => (weight(level) > weight(held) ? level : held), levels[0] as Level);
}

/** How a layer is laid, in words. */
export function inWords({ pressure, repeats, flicked }: Level, technique: string, inked: boolean): string {
  if (technique === "burnish") return "burnish";
  if (technique === "smudge") return "rub together";
  const wet = technique === "wet" ? ", worked in wet" : "";
  if (inked) return `${flicked ? "flicked, " : ""}${COATS[repeats]}${wet}`;
  return `${pressure}, ${TIMES[repeats]}`;
}

const NUMBERS = [
  "no",
  "one",
  "two",
  "three",
  "four",
  "five",
  "six",
  "seven",
  "eight",
  "nine",
  "ten",
  "eleven",
  "twelve",
];
const counted = (n: number, one: string) => `${NUMBERS[n] ?? n} ${one}${n === 1 ? "" : "s"}`;

type Props = {
  figure: Figure;
  sticks: Stick[];
  word: string;
  /** The layer that is looked at. */
  picked: string | null;
  onPick: (layer: string) => void;
};

/** A figure's skin in layers: what will come of them, how many are worth it, and each of them. */
export function Layers({ figure, sticks, word, picked, onPick }: Props) {
  const piece = usePiece();
  const { plan } = useEditor();
  const view = useView(figure.id);
  const busy = useEditing((state) => state.busy);
  const layers = layersOf(piece.document, figure.id);
  const said = useLayers(piece.id, piece.keys.layers, layers.length > 0).data?.figures.find(
    (row) => row.id === figure.id,
  );
  const maps = useMaps(piece.id, piece.keys.layers, layers.length > 0);
  const drawn = maps.data?.figures.find((row) => row.id === figure.id);
  const plans = usePlans(piece.id, piece.keys.palette, figure.id, layers.length > 0).data;
  if (!piece.document.tray || layers.length === 0)
    return (
      <section className="recipe empty-small">
        <h2 className="h4">{figure.name} in a few layers</h2>
        <p>
          {piece.document.tray
            ? `Each ${word} is taken in hand once and laid over an area: pressed here, faded there. Caltin finds which, where, how hard and in which order.`
            : "Choose the tray you own above, or add one first."}
        </p>
        {piece.document.tray ? (
          <Button variant="act" disabled={busy} onClick={() => plan([figure.id], 0)}>
            {busy ? "Planning …" : "Plan in layers"}
          </Button>
        ) : (
          <Link className="btn btn-act" to="/tray">
            Go to the tray
          </Link>
        )}
      </section>
    );
  const used = new Set(layers.map((layer) => layer.stick).filter((code) => !TOOLS.includes(code)));
  const { expected } = said ?? {};
  return (
    <section className="recipe layers" aria-label={`Layers of ${figure.name}`}>
      <h2 className="h3 words">
        {counted(layers.length, "layer")}, {counted(used.size, word)}
      </h2>
      {said?.trouble ? (
        <p className="problem" role="alert">
          {said.trouble}
        </p>
      ) : (
        expected && (
          <p>
            Meant to land <b>{closeness(expected.planned)}</b>; your own hand makes it about{" "}
            <b>{closeness(expected.by_hand)}</b>.{" "}
            {expected.on_paper > expected.by_hand + 0.5 &&
              `Nobody has tried these ${word}s on this paper yet: they may be off by more.`}
            {said && !said.keeps_the_rules && " Not all of it is as the method wants it."}
          </p>
        )
      )}
      {plans && (
        <div className="layer-counts">
          <span className="hint">fewer layers</span>
          <Segments
            label="How many layers"
            choices={plans.plans.map((row) => row.layers.length)}
            chosen={layers.length}
            say={(n) => (n === plans.recommended ? <b>{n}</b> : n)}
            hint={(n) => {
              const row = plans.plans.find((held) => held.layers.length === n);
              const recommended = n === plans.recommended ? ", worth it" : "";
              return row && `by hand ${closeness(row.expected.by_hand)}${recommended}`;
            }}
            onChoose={(n) => plan([figure.id], n)}
          />
          <span className="hint">closer</span>
        </div>
      )}
      {busy && (
        <p className="hint" aria-live="polite">
          Planning …
        </p>
      )}
      <ol className="layer-cards" reversed aria-label="From the last layer down to the paper">
        {layers
          .map((layer, i) => {
            const stick = sticks.find((row) => row.code === layer.stick);
            const inked = stick?.medium === "marker";
            return (
              <li key={layer.id} value={i + 1}>
                <button
                  type="button"
                  className={`layer-card${layer.id === picked ? " is-picked" : ""}`}
                  aria-pressed={layer.id === picked}
                  onClick={() => onPick(layer.id)}
                >
                  <span className="layer-number">{i + 1}</span>
                  <Strokes hex={stick?.swatch.hex ?? "#808080"} pressure={most(layer)?.pressure ?? "light"} />
                  <span className="layer-words">
                    <span>
                      <b>{layer.stick}</b> {stick?.name ?? ""}
                    </span>
                    <span>{inWords(most(layer), layer.technique, inked)}</span>
                    <span className="hint">{said?.areas[layer.id] ?? ""}</span>
                  </span>
                  {drawn?.maps ? (
                    <Crop
                      url={layerMapUrl(piece, [drawn.maps], layer.id)}
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
      {maps.isFetching && (
        <p className="hint" aria-live="polite">
          Drawing the maps …
        </p>
      )}
      {drawn?.trouble && <p className="hint">{drawn.trouble}</p>}
    </section>
  );
}
