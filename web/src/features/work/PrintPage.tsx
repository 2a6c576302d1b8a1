import { Button } from "react-bootstrap";
import { Link } from "react-router";
import { layerMapUrl, type Piece, seenSpots } from "../../api/client";
import { correctionUrl } from "../../api/comparing";
import { useMaps, useMaterials, useMethods, usePapers, useSheet, useSticks } from "../../api/queries";
import { viewOf } from "../../document/useView";
import { Crop } from "../../ui/Crop";
import { LightArrow, lightWords } from "../../ui/LightArrow";
import { Strokes } from "../../ui/Strokes";
import { pickUps } from "./jobs";

/** The work sheet on paper: the layers with their maps, to be ticked with a pencil. */
export function PrintPage({ piece }: { piece: Piece }) {
  const { document, picture } = piece;
  const spots = seenSpots(piece);
  const sheet = useSheet(piece.id, piece.keys.sheet);
  const materials = useMaterials();
  const { sticks, waiting } = useSticks(document.tray);
  const maps = useMaps(piece.id, piece.keys.layers, picture !== null && document.layers.length > 0);
  const { done, notes } = piece.work;
  const own = usePapers();
  const methods = useMethods(document.setup.medium, document.setup.method);
  const papers = [...(materials.data?.papers ?? []), ...(own.data ?? [])];
  const paper = papers.find((row) => row.id === document.setup.paper)?.name;
  const method = methods.find((row) => row.id === document.setup.method)?.name;
  if (waiting || sheet.isPending || !materials.data || own.isPending || maps.isLoading)
    return (
      <main key="wait" className="wait">
        Drawing the maps…
      </main>
    );
  const steps = sheet.data?.steps ?? [];
  const old = sheet.data && steps.length === 0 ? pickUps(sheet.data, spots, sticks) : [];
  const stickOf = (code: string) => sticks.find((row) => row.code === code);
  return (
    <main className="print">
      <div className="print-tools">
        <Link to={`/pieces/${piece.id}/work`} className="btn btn-quiet">
          Back
        </Link>
        <Button variant="act" onClick={() => window.print()}>
          Print this sheet
        </Button>
      </div>
      <header>
        <h1>{piece.title}</h1>
        <p>
          {document.figures.map((figure) => figure.name).join(" and ")} · {paper} · {method} ·{" "}
          {steps.length || old.length} {steps.length ? "layers" : "pick-ups"}
          {document.light && (
            <>
              {" "}
              · <LightArrow fromDeg={document.light.from_deg} size={22} /> light from{" "}
              {lightWords(document.light.from_deg)}
            </>
          )}
        </p>
      </header>
      <ol className="print-layers">
        {steps.map((step) => {
          const stick = stickOf(step.stick);
          const drawn = maps.data?.figures.filter((figure) =>
            figure.layers.some((layer) => layer.layer === step.layer),
          );
          return (
            <li key={step.layer}>
              <span className="print-maps">
                {step.comparison && (
                  <img
                    src={correctionUrl(step.comparison, step.correction ?? 0, "map", true)}
                    alt={`Where layer ${step.number} goes`}
                  />
                )}
                {picture &&
                  drawn?.map((figure) => (
                    <Crop
                      key={figure.id}
                      url={layerMapUrl(piece, [figure.maps], step.layer, "large")}
                      alt={`Where layer ${step.number} goes`}
                      view={viewOf(
                        spots.filter((spot) => spot.figure === figure.id),
                        picture.width / picture.height,
                      )}
                    />
                  ))}
              </span>
              <div>
                <h2>
                  {step.number} <b>{step.stick}</b> {stick?.name}
                </h2>
                <span className="print-stroke">
                  <Strokes hex={stick?.swatch.hex ?? "#808080"} pressure="medium" medium={stick?.medium} />
                </span>
                <p>
                  {step.stroke}, {step.how}. {step.first} {step.end}
                </p>
                <ul>
                  {step.parts.map((part) => (
                    <li key={part.ticks[0]}>
                      <span className="print-box">
                        {part.ticks.every((tick) => done[tick] ?? done[step.layer]) ? "✓" : ""}
                      </span>
                      {document.figures.length > 1 ? `${part.figure}: ` : ""}
                      {part.feature}, {part.how} <small>({part.places.join(", ")})</small>
                    </li>
                  ))}
                </ul>
                {notes[step.layer] && <p className="print-note">{notes[step.layer]}</p>}
              </div>
            </li>
          );
        })}
        {old.map((pickUp) => (
          <li key={pickUp.jobs[0]?.pass_id}>
            <div>
              <h2>
                <b>{pickUp.code}</b> {pickUp.stick?.name}
              </h2>
              <ul>
                {pickUp.jobs.map((job) => (
                  <li key={job.pass_id}>
                    <span className="print-box">{done[job.pass_id] ? "✓" : ""}</span>
                    {job.place.name}: {job.manner}
                    {notes[job.pass_id] ? <em> – {notes[job.pass_id]}</em> : null}
                  </li>
                ))}
              </ul>
            </div>
          </li>
        ))}
      </ol>
      {notes.piece && <p className="print-note">{notes.piece}</p>}
      {notes["next-time"] && <p className="print-note">Next time: {notes["next-time"]}</p>}
      {sheet.data?.cautions.map((text) => (
        <p key={text}>{text}</p>
      ))}
    </main>
  );
}
