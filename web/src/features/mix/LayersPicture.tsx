import { type ReactNode, useEffect, useState } from "react";
import { type Figure, layeredUrl, layerMapUrl, pictureUrl, viewUrl } from "../../api/client";
import { useMaps } from "../../api/queries";
import { usePiece } from "../../document/useEditor";
import { Crop } from "../../ui/Crop";
import { Segments } from "../../ui/Segments";
import { Slider } from "../../ui/Slider";
import { inWords, layersOf } from "./Layers";
import { useView } from "./useView";

const SMALL = 480;
const LARGE = 1800;
const STILL_MS = 350;

type Props = {
  figure: Figure;
  values: boolean;
  onValues: (values: boolean) => void;
  /** How many layers are laid. */
  upto: number;
  onUpto: (upto: number) => void;
  picked: string | null;
  /** Whether the picked layer is ink. */
  inked: boolean;
  /** What is said of the picked layer. */
  children: ReactNode;
};

/** The reference and, touching it, the drawing after so many layers; below them the map of the picked one. */
export function LayersPicture({ figure, values, onValues, upto, onUpto, picked, inked, children }: Props) {
  const piece = usePiece();
  const layers = layersOf(piece.document, figure.id);
  const maps = useMaps(piece.id, piece.keys.layers, layers.length > 0).data;
  const names = maps?.figures.map((row) => row.maps).filter(Boolean) ?? [];
  const mine = maps?.figures.find((row) => row.id === figure.id)?.maps;
  const doses = maps?.figures.flatMap((row) => row.layers).find((row) => row.layer === picked)?.doses ?? [];
  const view = useView(figure.id);
  const still = useStill(upto);
  const last = layers[Math.max(0, upto - 1)];
  // The picture counts all layers of the piece, the slider those of the figure.
  const every = last && upto > 0 ? piece.document.layers.indexOf(last) + 1 : 0;
  const { picture } = piece;
  if (!picture) return null;
  const size = still ? LARGE : SMALL;
  const reference = values ? viewUrl(piece, "values", 9, false, false) : pictureUrl(picture.id);
  const said = upto === 0 ? "bare paper" : `after layer ${upto} of ${layers.length}`;
  return (
    <section className="mix-picture layers-picture" aria-label="Reference and drawing">
      <div className="layers-pair">
        <Crop url={reference} alt="The reference" view={view} />
        {names.length > 0 ? (
          <Crop url={layeredUrl(piece, names, every, size, values)} alt={`The drawing ${said}`} view={view} />
        ) : (
          <span className="layers-wait hint">
            {layers.length > 0 ? "Drawing the maps …" : "No layers yet"}
          </span>
        )}
      </div>
      <div className="layers-tools">
        <Slider
          label="Layers laid"
          words={`Reference, and ${said}`}
          value={upto}
          low={0}
          high={layers.length}
          onSet={onUpto}
        />
        <Segments
          label="Colour or values"
          choices={["colour", "values"]}
          chosen={values ? "values" : "colour"}
          onChoose={(choice) => onValues(choice === "values")}
        />
      </div>
      {mine && picked && (
        <figure className="layer-map">
          <Crop url={layerMapUrl(piece, [mine], picked)} alt="Where it goes" view={view} />
          <figcaption>
            <span className="hint">
              Layer {layers.findIndex((layer) => layer.id === picked) + 1} goes here
            </span>
            {children}
            <ol className="layer-doses" aria-label="How hard, from fine to heavy lines">
              {doses.map((dose, i) => (
                <li key={`${dose.pressure}${dose.repeats}${dose.flicked}`}>
                  <Weight part={(i + 1) / doses.length} />
                  {inWords(dose, "lay", inked)}
                </li>
              ))}
            </ol>
          </figcaption>
        </figure>
      )}
    </section>
  );
}

const MARKS = [4, 11, 18, 25];
const CROSSED_FROM = 0.7;

/** Lines as they stand on the map for a part of the largest dose. */
function Weight({ part }: { part: number }) {
  const crossed = part >= CROSSED_FROM ? "M2 7 H30" : "";
  return (
    <svg className="line-weight" viewBox="0 0 32 14" aria-hidden="true">
      <path
        d={`${MARKS.map((x) => `M${x} 13 L${x + 5} 1`).join("")}${crossed}`}
        stroke="currentColor"
        strokeWidth={1 + 2.4 * part}
        fill="none"
      />
    </svg>
  );
}

/** Whether something has not changed for a moment. */
function useStill(of: unknown): boolean {
  const [held, setHeld] = useState<unknown>(null);
  useEffect(() => {
    const timer = setTimeout(() => setHeld(of), STILL_MS);
    return () => clearTimeout(timer);
  }, [of]);
  return held === of;
}
