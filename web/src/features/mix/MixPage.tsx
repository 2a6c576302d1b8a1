import { useState } from "react";
import { Button, ProgressBar } from "react-bootstrap";
import { Link } from "react-router";
import { type Foresight, pictureUrl } from "../../api/client";
import { useMaterials, useSticks } from "../../api/queries";
import { useEditing, useEditor, usePiece, useSpots } from "../../document/useEditor";
import { useKeys } from "../../ui/keys";
import { PictureCanvas } from "../../ui/PictureCanvas";
import { RoleMark } from "../../ui/RoleMark";
import { Segments } from "../../ui/Segments";
import { Pair } from "../../ui/Swatch";
import { useHeight } from "../../ui/useHeight";
import { ValueLadder } from "../../ui/ValueLadder";
import { Figures } from "./Figures";
import { ForecastPicture, ForecastTools } from "./Forecast";
import { LayeredRecipe } from "./LayeredRecipe";
import { Layers, layersOf } from "./Layers";
import { LayersPicture } from "./LayersPicture";
import { PalettePanel } from "./PalettePanel";
import { RecipeEditor } from "./RecipeEditor";
import { SetupBar } from "./SetupBar";
import { useByValue } from "./useByValue";

const PARTS = ["layers", "recipe", "ramp", "palette", "forecast"] as const;
type Part = (typeof PARTS)[number];
const NEIGHBOUR_RADIUS = 0.012;

export function MixPage() {
  const piece = usePiece();
  const { solve, plan, edit } = useEditor();
  const busy = useEditing((state) => state.busy);
  const { document, picture } = piece;
  const { figures } = document;
  const spots = useSpots();
  const materials = useMaterials();
  const rows = useByValue(spots);
  const [selected, setSelected] = useState<string | null>(rows[0]?.id ?? null);
  const [part, setPart] = useState<Part>(spots.some((spot) => spot.recipe) ? "recipe" : "layers");
  const [picking, setPicking] = useState(false);
  const [asked, setAsked] = useState<Foresight>({ stage: -1, grain: false, muted: true, values: false });
  const [figureId, setFigure] = useState(figures[0]?.id);
  const [layerId, setLayer] = useState<string | null>(null);
  const [laid, setLaid] = useState<number | null>(null);
  const figure = figures.find((row) => row.id === figureId) ?? figures[0];
  const layers = figure ? layersOf(document, figure.id) : [];
  const picked = layers.some((layer) => layer.id === layerId) ? layerId : (layers.at(-1)?.id ?? null);
  const { sticks } = useSticks(document.tray);
  const held = layers.find((layer) => layer.id === picked);
  const inHand = sticks.find((stick) => stick.code === held?.stick);
  const upto = Math.min(laid ?? layers.length, layers.length);
  const [ladder, ladderHeight] = useHeight();
  const current = spots.find((spot) => spot.id === selected) ?? null;
  const word = materials.data?.media.find((row) => row.id === document.setup.medium)?.word ?? "stick";
  const mixed = spots.some((spot) => spot.recipe);
  const hop = (by: number) => {
    const index = rows.findIndex((spot) => spot.id === selected);
    setSelected(rows[Math.min(rows.length - 1, Math.max(0, index + by))]?.id ?? null);
  };
  const open = (id: string) => {
    setSelected(id);
    setPart("recipe");
  };
  const ask = (next: Partial<Foresight>) => setAsked((held) => ({ ...held, ...next }));
  useKeys([
    { key: "x", does: "Mix all spots anew", run: () => solve([]) },
    { key: "p", does: "Plan all figures in layers", run: () => plan([], 0) },
    { key: "ArrowDown", does: "Next spot", run: () => hop(1) },
    { key: "ArrowUp", does: "Spot before", run: () => hop(-1) },
    ...PARTS.map((name, i) => ({
      key: String(i + 1),
      does: `Show the ${name}`,
      run: () => setPart(name),
    })),
    { key: "v", does: "Forecast in colour or in values", run: () => ask({ values: !asked.values }) },
    { key: "n", does: "Grain of the paper in the forecast", run: () => ask({ grain: !asked.grain }) },
  ]);

  if (!picture || spots.length === 0) {
    return (
      <main className="page">
        <section className="empty">
          <h2>First look, then mix</h2>
          <p>Mark a few spots on the reference. For each of them Caltin then finds what to lay down.</p>
          <Link className="btn btn-act" to={`/pieces/${piece.id}/look`}>
            Mark spots
          </Link>
        </section>
      </main>
    );
  }
  const pick = {
    down: ({ x, y }: { x: number; y: number }) => {
      setPicking(false);
      edit((held) => {
        const number = held.surroundings.length + 1;
        const id = `near-${crypto.randomUUID().slice(0, 8)}`;
        const place = { id, name: `neighbour ${number}`, x, y, radius: NEIGHBOUR_RADIUS };
        return { ...held, surroundings: [...held.surroundings, place].slice(-6) };
      });
    },
  };
  return (
    <main className={`mix${part === "forecast" ? " is-forecast" : ""}`}>
      <SetupBar layered={part === "layers"} />
      {part === "layers" && figure && layers.length > 0 ? (
        <LayersPicture
          figure={figure}
          values={asked.values}
          onValues={(values) => ask({ values })}
          upto={upto}
          onUpto={(next) => {
            setLaid(next);
            setLayer(layers[next - 1]?.id ?? null);
          }}
          picked={picked}
          inked={inHand?.medium === "marker"}
        >
          <h3 className="h5">
            {held?.stick} {inHand?.name}
          </h3>
        </LayersPicture>
      ) : part === "forecast" ? (
        <ForecastPicture asked={asked} />
      ) : (
        <section className="mix-picture" aria-label="Reference">
          <PictureCanvas
            url={pictureUrl(picture.id)}
            alt={`Reference of ${piece.title}`}
            width={picture.width}
            height={picture.height}
            spots={spots}
            figures={figures}
            selected={selected}
            onSelect={open}
            tool={picking ? pick : undefined}
            byWidth={0.58}
          />
          <SpotRows selected={selected} onSelect={open} />
        </section>
      )}
      <section className="look-ladder" ref={ladder} aria-label="Values">
        <ValueLadder
          spots={spots}
          figures={figures}
          reach={piece.found.reach}
          selected={selected}
          onSelect={open}
          height={ladderHeight}
          greys={materials.data?.value_greys ?? []}
        />
      </section>
      <div className="mix-part">
        <Segments
          label="What to see"
          choices={PARTS}
          chosen={part}
          say={(name) => (
            <>
              {name} <kbd>{PARTS.indexOf(name) + 1}</kbd>
            </>
          )}
          onChoose={setPart}
        />
        <Progress />
        {part === "layers" && figure && (
          <>
            {figures.length > 1 && (
              <Segments
                label="Whose layers"
                choices={figures.map((row) => row.id)}
                chosen={figure.id}
                say={(id) => figures.find((row) => row.id === id)?.name ?? ""}
                onChoose={setFigure}
              />
            )}
            <Layers
              figure={figure}
              sticks={sticks}
              word={word}
              picked={picked}
              onPick={(id) => {
                setLayer(id);
                setLaid(layers.findIndex((layer) => layer.id === id) + 1);
              }}
            />
          </>
        )}
        {part === "ramp" && <Figures sticks={sticks} onSelect={open} />}
        {part === "palette" && <PalettePanel sticks={sticks} />}
        {part === "forecast" && <ForecastTools asked={asked} onAsk={setAsked} />}
        {part === "recipe" &&
          (current?.recipe ? (
            <RecipeEditor
              key={current.id}
              spot={current}
              number={spots.indexOf(current) + 1}
              sticks={sticks}
              picking={picking}
              onPick={setPicking}
            />
          ) : current && document.layers.some((layer) => current.id in layer.levels) ? (
            <LayeredRecipe spot={current} sticks={sticks} />
          ) : (
            <section className="recipe empty-small">
              <h2 className="h5">{mixed ? "This spot has no recipe yet" : "Ready to mix"}</h2>
              <p>
                {document.tray
                  ? `Caltin searches everything your ${word}s can do on this paper, in the order your method works.`
                  : "Choose the tray you own above, or add one first."}
              </p>
              {document.tray ? (
                <Button
                  variant="act"
                  disabled={busy}
                  onClick={() => solve(mixed && current ? [current.id] : [])}
                >
                  {busy ? "Mixing…" : mixed ? "Mix this spot" : "Mix all spots"}
                </Button>
              ) : (
                <Link className="btn btn-act" to="/tray">
                  Go to the tray
                </Link>
              )}
            </section>
          ))}
      </div>
    </main>
  );
}

/** How far the mixing is, and a way to end it. */
function Progress() {
  const { stop } = useEditor();
  const progress = useEditing((state) => state.progress);
  if (!progress) return null;
  return (
    <div className="mix-progress">
      <ProgressBar now={progress.done} max={progress.total} aria-label="Spots mixed" />
      <span className="numbers">
        {progress.done} of {progress.total} spots
      </span>
      <Button variant="quiet" size="sm" onClick={stop}>
        Stop, keep what is done
      </Button>
    </div>
  );
}

function SpotRows({ selected, onSelect }: { selected: string | null; onSelect: (id: string) => void }) {
  const { editSpot } = useEditor();
  const spots = useSpots();
  const rows = useByValue(spots);
  return (
    <ol className="spot-list mix-list" aria-label="All spots">
      {rows.map((spot) => {
        const { outcome } = spot;
        return (
          <li key={spot.id}>
            <button
              type="button"
              className={spot.id === selected ? "is-selected" : ""}
              onClick={() => onSelect(spot.id)}
            >
              <span className="numbers">{spots.indexOf(spot) + 1}</span>
              <RoleMark role={spot.role} />
              {outcome?.target && outcome.result ? (
                <Pair target={outcome.target} result={outcome.result} />
              ) : (
                <span />
              )}
              <span className="spot-name">{spot.name}</span>
              <span className="numbers" title="Distance to what is wanted">
                {outcome?.trouble ? "?" : (outcome?.delta_e?.toFixed(1) ?? "–")}
                {outcome?.cautions?.length ? " !" : ""}
              </span>
            </button>
            {spot.recipe && (
              <Button
                size="sm"
                variant={spot.locked ? "chosen" : "quiet"}
                aria-pressed={spot.locked}
                aria-label={`Keep the recipe of ${spot.name}`}
                onClick={() => editSpot(spot.id, { locked: !spot.locked })}
              >
                keep
              </Button>
            )}
          </li>
        );
      })}
    </ol>
  );
}
