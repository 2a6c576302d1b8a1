import { Form } from "react-bootstrap";
import { Link } from "react-router";
import type { Figure, Stick } from "../../api/client";
import { correctionUrl } from "../../api/comparing";
import { layeredUrl, layerMapUrl } from "../../api/pictures";
import type { useMaps } from "../../api/queries";
import { inWords, TOOLS } from "../../document/layers";
import { usePiece } from "../../document/useEditor";
import { useView } from "../../document/useView";
import { Crop } from "../../ui/Crop";
import { Doses } from "../../ui/Doses";
import { LightArrow } from "../../ui/LightArrow";
import { Strokes } from "../../ui/Strokes";
import { EaselMap } from "./EaselMap";
import { StrokeDrawing } from "./StrokeDrawing";
import type { LaidStep } from "./WorkPage";

const TOOL_NAMES: Record<string, string> = { stump: "paper stump", putty: "kneaded putty", blade: "blade" };

const NO_MAP = "Without a picture there is no map: the places are named beside this.";

type Props = {
  step: LaidStep;
  number: number;
  count: number;
  /** Whose part of the layer is shown. */
  figure: Figure;
  sticks: Stick[];
  maps: ReturnType<typeof useMaps>["data"];
  isNow: boolean;
  onTick: (ticks: string[], as: "done" | "") => void;
};

/** One layer in hand: which stick, the stroke, where and how hard, now and after it, and its parts to tick. */
export function Easel({ step, number, count, figure, sticks, maps, isNow, onTick }: Props) {
  const piece = usePiece();
  const { done } = piece.work;
  const stick = sticks.find((row) => row.code === step.stick);
  const view = useView(figure.id);
  const drawn = maps?.figures.find((row) => row.id === figure.id);
  const map = drawn?.layers.find((row) => row.layer === step.layer);
  const names = maps?.figures.map((row) => row.maps).filter(Boolean) ?? [];
  const inked = stick?.medium === "marker";
  const place = sticks.findIndex((row) => row.code === step.stick);
  const several = piece.document.figures.length > 1;
  const planned = piece.document.layers.find((layer) => layer.id === step.layer)?.levels ?? {};
  const hows = map?.doses ?? Object.values(planned);
  const hardest = hows.some((level) => level?.pressure === "heavy") ? "heavy" : "medium";
  return (
    <>
      <section className="easel-where" aria-label="Where">
        {step.comparison ? (
          <EaselMap
            url={correctionUrl(step.comparison, step.correction ?? 0, "map", true)}
            alt={`Where this goes on ${figure.name}`}
            view={view}
            light={piece.document.light?.from_deg ?? null}
          />
        ) : drawn?.maps ? (
          <EaselMap
            url={layerMapUrl(piece, [drawn.maps], step.layer, "large")}
            alt={`Where layer ${step.number} goes on ${figure.name}`}
            view={view}
            light={piece.document.light?.from_deg ?? null}
          />
        ) : (
          <span className="layers-wait hint">
            {drawn?.trouble || (piece.picture ? "Drawing the map …" : NO_MAP)}
            {!piece.picture && piece.document.light && (
              <LightArrow fromDeg={piece.document.light.from_deg} size={72} />
            )}
          </span>
        )}
        <Doses
          doses={(map?.doses ?? []).map((dose) => inWords(dose, step.technique, inked))}
          where={map?.where ?? []}
        />
      </section>
      <section className="easel-stick" aria-label="Now">
        <div className="stick-head">
          {!TOOLS.includes(step.stick) && (
            <Strokes hex={stick?.swatch.hex ?? "#808080"} pressure={hardest} medium={stick?.medium} />
          )}
          <div>
            <span className="hint">
              {isNow ? "Now pick up" : "Looking at"} · {(step.round ?? 1) > 1 ? `round ${step.round}, ` : ""}
              layer {number} of {count}
            </span>
            <h1>
              {!TOOLS.includes(step.stick) && <b className="stick-code">{step.stick}</b>}{" "}
              {stick?.name ?? TOOL_NAMES[step.stick] ?? "not in this tray"}
            </h1>
            <span className="hint">
              {stick?.swatch.words}
              {place >= 0 && `, number ${place + 1} of ${sticks.length} in your tray`}
            </span>
          </div>
        </div>
        <div className="stroke-words">
          <StrokeDrawing kind={step.kind} />
          <div>
            <h2>
              {step.stroke}, {step.how}
            </h2>
            <p>
              {step.first && <b>{step.first} </b>}
              {step.end}
            </p>
          </div>
        </div>
        {step.settles && (
          <p className="caution">
            Hardly anything holds after this.{" "}
            <Link to={`/pieces/${piece.id}/compare`}>Compare the drawing first</Link>, and put right what is
            off.
          </p>
        )}
        {step.caution && <p className="caution">{step.caution}</p>}
      </section>
      {step.comparison && (
        <section className="now-after is-round" aria-label="What it looks like">
          <figure>
            <img
              src={correctionUrl(step.comparison, step.correction ?? 0, "then")}
              alt="Left as it was photographed, right after this layer"
            />
            <figcaption>
              as photographed · <b>after this layer</b>
            </figcaption>
          </figure>
        </section>
      )}
      {names.length > 0 && !step.comparison && (
        <section className="now-after" aria-label="What it looks like">
          <figure>
            <Crop
              url={layeredUrl(piece, names, step.number - 1, 480, false)}
              alt="As it looks now"
              view={view}
            />
            <figcaption>as it looks now</figcaption>
          </figure>
          <figure>
            <Crop
              url={layeredUrl(piece, names, step.number, 480, false)}
              alt="After this layer"
              view={view}
            />
            <figcaption>
              <b>after this layer</b>
            </figcaption>
          </figure>
        </section>
      )}
      <ul className="ticks" aria-label="Parts of this layer">
        {step.parts.map((part) => {
          const states = part.ticks.map((tick) => done[tick] ?? done[step.layer]);
          const ticked = states.every(Boolean);
          return (
            <li key={part.ticks[0]}>
              <Form.Check
                type="checkbox"
                id={`tick-${part.ticks[0]}`}
                checked={ticked}
                onChange={(event) => onTick([...part.ticks], event.target.checked ? "done" : "")}
                label={
                  <>
                    <span className="words">
                      {several ? `${part.figure}: ` : ""}
                      {part.feature}
                      {ticked && states.every((state) => state === "skipped") && " (skipped)"}
                    </span>{" "}
                    <span className="hint" title={part.places.join(", ")}>
                      {part.how}
                    </span>
                  </>
                }
              />
            </li>
          );
        })}
      </ul>
    </>
  );
}
