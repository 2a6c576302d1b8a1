import { Suspense, useEffect, useState } from "react";
import { Button } from "react-bootstrap";
import { Link, useNavigate, useSearchParams } from "react-router";
import { useLayers, useMaterials, usePlans, useSticks } from "../../api/queries";
import { counted, type Layer, TOOLS } from "../../document/layers";
import { useEditing, useEditor, usePiece, useSpots } from "../../document/useEditor";
import { useMapped } from "../../document/useMapped";
import { useView } from "../../document/useView";
import { DrillCore } from "../../ui/DrillCore";
import { EmptyPage } from "../../ui/EmptyPage";
import { Segments } from "../../ui/Segments";
import { useHeight } from "../../ui/useHeight";
import { useNoun } from "../../ui/useNoun";
import { useSettled } from "../../ui/useSettled";
import { ValueLadder } from "../../ui/ValueLadder";
import { Curve } from "./Curve";
import { brushed, byMap, harder, locked, moved, oftener, ownLayers, split, without } from "./edits";
import { Figures } from "./Figures";
import { LayerCards } from "./LayerCards";
import { LayersPicture } from "./LayersPicture";
import { MySticks } from "./LazyMySticks";
import { MixKeys, PARTS, type Part } from "./MixKeys";
import { StaleOffer } from "./Offers";
import { PalettePanel } from "./PalettePanel";
import { type LayerEdit, PickedLayer } from "./PickedLayer";
import { PlacePanel } from "./PlacePanel";
import { Planning } from "./Planning";
import { SetupLine } from "./SetupLine";
import { SpotsOnReference } from "./SpotsOnReference";
import { useByValue } from "./useByValue";
import { useFit } from "./useFit";
import { WhatIf } from "./WhatIf";

const [SHORT_CARD, TALL_CARD] = [58, 76];
const FOOT_OF_CORE = 30;
/** Maps are asked for anew once nothing was changed for so long. */
const STILL_MS = 900;
/** In ΔE00: what is less is not worth a sentence. */
const TELLS = 0.5;

export function MixPage() {
  const piece = usePiece();
  const spots = useSpots();
  if (!(piece.picture || piece.document.imagined) || spots.length === 0)
    return (
      <EmptyPage
        title="First look, then mix"
        text="Mark a few spots on the reference. For each of them Caltin then finds what to lay down."
        to={`/pieces/${piece.id}/look`}
        deed="Mark spots"
      />
    );
  return <Mix />;
}

function Mix() {
  const piece = usePiece();
  const { plan, take } = useEditor();
  const go = useNavigate();
  const busy = useEditing((state) => state.busy);
  const { document, picture } = piece;
  const { figures } = document;
  const everySpot = useSpots();
  const materials = useMaterials();
  const { sticks } = useSticks(document.tray);
  const swap = useSearchParams()[0].get("swap");
  const [figureId, setFigure] = useState(() => {
    const over = document.layers.find((layer) => layer.id === swap)?.levels ?? {};
    return document.spots.find((spot) => over[spot.id])?.figure ?? figures[0]?.id ?? "";
  });
  const figure = figures.find((row) => row.id === figureId) ?? figures[0];
  const spots = everySpot.filter((spot) => spot.figure === figure?.id);
  const rows = useByValue(spots);
  const [selected, setSelected] = useState<string | null>(null);
  const [part, setPart] = useState<Part>("layers");
  const [values, setValues] = useState(false);
  const [layerId, setLayer] = useState<string | null>(swap);
  const [laidTo, setLaid] = useState<number | null>(() => {
    const at = figure ? ownLayers(document, figure.id).findIndex((layer) => layer.id === swap) : -1;
    return at < 0 ? null : at + 1;
  });
  const [brushing, setBrushing] = useState(false);
  const [asking, setAsking] = useState(false);
  const [putting, setPutting] = useState(false);
  const [ladder, ladderHeight] = useHeight();
  const [core, coreHeight] = useHeight();
  const layers = figure ? ownLayers(document, figure.id) : [];
  const view = useView(figure?.id ?? "");
  const planned = layers.length > 0;
  const said = useLayers(piece.id, piece.keys.layers, planned).data?.figures.find(
    (row) => row.id === figure?.id,
  );
  const plans = usePlans(piece.id, piece.keys.palette, figure?.id ?? "", planned).data;
  const settled = useSettled(piece.keys.maps, STILL_MS);
  const maps = useMapped(settled);
  const drawn = maps.data?.figures.find((row) => row.id === figure?.id);
  const mapped = drawn?.layers ?? [];
  const names = maps.data?.figures.map((row) => row.maps).filter(Boolean) ?? [];
  const fit = useFit(figure?.id ?? "");
  const word = materials.data?.media.find((row) => row.id === document.setup.medium)?.word ?? "stick";
  const upto = Math.min(laidTo ?? layers.length, layers.length);
  const number = layers.findIndex((layer) => layer.id === layerId) + 1 || upto;
  const asPlanned = layers[number - 1];
  const picked = asPlanned && byMap(asPlanned, mapped);
  const map = drawn?.layers.find((row) => row.layer === picked?.id);
  const tall = Math.max(
    SHORT_CARD,
    Math.min(TALL_CARD, (coreHeight - FOOT_OF_CORE) / Math.max(1, layers.length)),
  );
  const height = Math.max(coreHeight, tall * layers.length + FOOT_OF_CORE);
  const spot = spots.find((row) => row.id === selected) ?? null;
  const old = spots.filter((row) => row.recipe);
  const endings = said?.endings ?? {};
  // The picture counts all layers of the piece, the slider those of the figure.
  const last = layers[upto - 1];
  const every = last ? document.layers.findIndex((layer) => layer.id === last.id) + 1 : 0;
  const used = new Set(layers.map((layer) => layer.stick).filter((code) => !TOOLS.includes(code)));
  const noun = useNoun(
    sticks.filter((stick) => used.has(stick.code)),
    document.setup.medium,
  );
  useEffect(() => {
    if (!planned) setBrushing(false);
  }, [planned]);
  if (!figure) return null;
  const pick = (id: string) => {
    setLayer(id);
    setLaid(layers.findIndex((layer) => layer.id === id) + 1);
  };
  const lay = (next: number) => {
    setLaid(next);
    setLayer(layers[next - 1]?.id ?? null);
  };
  const see = (next: Part) => {
    if (next === "place" && !spot) setSelected(rows[0]?.id ?? null);
    setPart(next);
  };
  const change = (next: Layer[]) => take(figure.id, next);
  // What is changed by hand begins with what is shown, which is what its map has.
  const shown = layers.map((layer) => (layer.id === picked?.id ? picked : layer));
  const edit = (what: LayerEdit) => {
    if (!picked) return;
    const { id } = picked;
    if (what === "fit") return fit.ask();
    change(
      {
        harder: () => harder(shown, id, 1),
        softer: () => harder(shown, id, -1),
        more: () => oftener(shown, id, 1),
        less: () => oftener(shown, id, -1),
        lock: () => locked(shown, id, !picked.locked),
        split: () => split(document, shown, id),
        remove: () => without(layers, id),
      }[what](),
    );
  };
  const move = (id: string, by: number) => {
    change(moved(layers, id, by));
    setLayer(id);
    setLaid(Math.min(layers.length, Math.max(1, layers.findIndex((layer) => layer.id === id) + 1 + by)));
  };
  return (
    <main className="mix">
      <MixKeys
        onPart={see}
        onValues={() => setValues(!values)}
        onEdit={edit}
        onMove={(by) => picked && move(picked.id, by)}
        onAsk={() => setAsking(planned)}
        onBrush={() => setBrushing(!brushing && planned)}
      />
      <header className="mix-head">
        <SetupLine figure={figure.id} onFigure={setFigure} />
        <Segments label="What to see" choices={PARTS} chosen={part} onChoose={see} />
      </header>
      <div className="mix-left">
        <LayersPicture
          figure={figure}
          maps={names}
          failed={maps.error}
          onAgain={() => void maps.refetch()}
          values={values}
          onValues={setValues}
          upto={upto}
          count={layers.length}
          every={every}
          layer={picked ? { id: picked.id, number } : undefined}
        >
          <SpotsOnReference
            view={view}
            ratio={picture ? picture.width / picture.height : 1}
            spots={spots}
            selected={selected}
            brush={
              brushing && picked
                ? new Set(Object.keys(picked.levels).filter((id) => picked.levels[id]))
                : null
            }
            onSelect={setSelected}
            onBrushed={(under, add) => picked && change(brushed(shown, picked.id, under, add))}
          />
        </LayersPicture>
        {picked && upto > 0 && (
          <PickedLayer
            key={picked.id === swap ? swap : "picked"}
            swap={picked.id === swap}
            now={said?.planned?.expected.by_hand ?? 0}
            figure={figure}
            layer={picked}
            number={number}
            stick={sticks.find((row) => row.code === picked.stick)}
            sticks={sticks}
            said={said?.layers.find((row) => row.id === picked.id)}
            map={map && drawn?.maps ? { ...map, name: drawn.maps } : null}
            brushing={brushing}
            onBrush={setBrushing}
            onEdit={edit}
            onTake={change}
          />
        )}
        {planned && upto === 0 && (
          <p className="hint">The bare paper. Draw the edge of the core up to lay on.</p>
        )}
      </div>
      <section className="look-ladder" ref={ladder} aria-label="Values">
        <ValueLadder
          spots={spots}
          endings={endings}
          reach={piece.found.reach}
          selected={selected}
          onSelect={setSelected}
          height={ladderHeight}
          greys={materials.data?.value_greys ?? []}
        />
      </section>
      <div className="mix-part">
        {part === "ramp" && <Figures sticks={sticks} onSelect={setSelected} />}
        {part === "palette" && <PalettePanel sticks={sticks} />}
        {part === "place" && spot && (
          <PlacePanel key={spot.id} spot={spot} sticks={sticks} endings={endings} maps={mapped} />
        )}
        {part === "layers" && !planned && (
          <section className="empty-small first-plan">
            <h2 className="h2">{figure.name} in a few layers</h2>
            <p>
              {document.tray
                ? `Each ${word} is taken in hand once and laid over an area: pressed here, faded there. Caltin finds which, where, how hard and in which order.`
                : "Say what you draw with: names, numbers, a list, or a range; plans are made with that alone."}
            </p>
            {old.length > 0 && (
              <p>
                {counted(old.length, "spot")} {old.length === 1 ? "has a recipe" : "have recipes"} from before
                there were layers; pick one on the ladder to read it. Planning puts the layers in their place,
                and Undo brings them back.
              </p>
            )}
            {document.tray ? (
              <>
                <Button variant="act" className="btn-deed" disabled={busy} onClick={() => plan([], 0)}>
                  {busy ? "Planning …" : "Plan in layers"}
                </Button>
                <Planning />
              </>
            ) : (
              <Button variant="act" className="btn-deed" onClick={() => setPutting(true)}>
                What do you draw with?
              </Button>
            )}
            {putting && (
              <Suspense>
                <MySticks onClose={() => setPutting(false)} />
              </Suspense>
            )}
          </section>
        )}
        {part === "layers" && planned && (
          <>
            <div className="plan-head">
              <div>
                <h1 className="words">
                  {counted(layers.length, "layer")}, {counted(used.size, noun)}
                </h1>
                {said?.words && (
                  <p>
                    Meant to land <b>{said.words.planned}</b>; your own hand makes it about{" "}
                    <b>{said.words.by_hand}</b>.{" "}
                    {(said.expected?.on_paper ?? 0) > (said.expected?.by_hand ?? 0) + TELLS && (
                      <>
                        {plans?.untried === 0 ? "Tried on this paper" : "Nobody has tried them on this paper"}
                        : it may end <b>{said.words.on_paper}</b>.{" "}
                        {plans && plans.untried > 0 && <Link to={`/pieces/${piece.id}/try`}>Try them</Link>}
                      </>
                    )}
                  </p>
                )}
              </div>
              {plans && <Curve plans={plans} chosen={layers.length} onChoose={(n) => plan([figure.id], n)} />}
            </div>
            {said && !busy && <StaleOffer figure={figure} said={said} plans={plans} />}
            {(busy || fit.pending) && (
              <p className="hint" aria-live="polite">
                Working it out …
              </p>
            )}
            <Planning />
            {fit.problem && (
              <p className="problem" role="alert">
                {fit.problem}
              </p>
            )}
            <div className="core-and-cards" ref={core}>
              {said && said.holes.length > 0 && said.layers.length === layers.length ? (
                <DrillCore
                  holes={said.holes}
                  cards={layers.map((_, i) => height - FOOT_OF_CORE - tall * (i + 0.5))}
                  height={height}
                  laid={upto}
                  onLaid={lay}
                  words={
                    upto === 0
                      ? "bare paper"
                      : `after layer ${upto} of ${layers.length}, ${last?.stick ?? ""}`
                  }
                />
              ) : (
                <span className="drill" />
              )}
              <LayerCards
                figure={figure}
                layers={layers}
                told={said?.layers ?? []}
                sticks={sticks}
                maps={drawn?.maps ?? ""}
                picked={picked?.id ?? null}
                laid={upto}
                tall={tall}
                onPick={pick}
                onMove={move}
              />
            </div>
            {drawn?.trouble && <p className="hint">{drawn.trouble}</p>}
            <div className="mix-foot">
              <span className="hint" aria-live="polite">
                {maps.isFetching || settled !== piece.keys.maps ? "Drawing the maps …" : ""}
              </span>
              <Link className="btn btn-quiet" to={`/pieces/${piece.id}/around`}>
                hair, cloth, ground
              </Link>
              <Button variant="quiet" disabled={busy} onClick={() => setAsking(true)}>
                what if …
              </Button>
              <Button variant="act" className="btn-deed" onClick={() => void go(`/pieces/${piece.id}/work`)}>
                Take it to the easel
              </Button>
            </div>
          </>
        )}
        {asking && said && (
          <WhatIf
            figure={figure}
            layers={layers}
            said={said}
            gives={Object.fromEntries(Object.entries(endings).map(([id, ending]) => [id, ending.hex]))}
            sticks={sticks}
            word={noun}
            onClose={() => setAsking(false)}
          />
        )}
      </div>
    </main>
  );
}
