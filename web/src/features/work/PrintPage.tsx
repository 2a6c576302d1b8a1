import { Button } from "react-bootstrap";
import { Link } from "react-router";
import { type Piece, pictureUrl, seenSpots } from "../../api/client";
import { useMaterials, usePapers, useSheet, useSticks } from "../../api/queries";
import { LightArrow, lightWords } from "../../ui/LightArrow";
import { PictureCanvas } from "../../ui/PictureCanvas";
import { RoleMark } from "../../ui/RoleMark";
import { pickUps } from "./jobs";

/** The work sheet on paper: everything that the screen shows, to be ticked with a pencil. */
export function PrintPage({ piece }: { piece: Piece }) {
  const { document, picture } = piece;
  const spots = seenSpots(piece);
  const sheet = useSheet(piece.id, piece.keys.sheet);
  const materials = useMaterials();
  const { sticks, waiting } = useSticks(document.tray);
  const list = sheet.data ? pickUps(sheet.data, spots, sticks) : [];
  const { done, notes } = piece.work;
  const own = usePapers();
  const papers = [...(materials.data?.papers ?? []), ...(own.data ?? [])];
  const paper = papers.find((row) => row.id === document.setup.paper)?.name;
  const method = materials.data?.methods.find((row) => row.id === document.setup.method)?.name;
  if (waiting || sheet.isPending || !materials.data || own.isPending)
    return (
      <main key="wait" className="wait">
        Sorting the steps…
      </main>
    );
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
          {document.figures.map((figure) => figure.name).join(" and ")} · {paper} · {method} · {list.length}{" "}
          pick-ups
          {document.light && (
            <>
              {" "}
              · <LightArrow fromDeg={document.light.from_deg} size={22} /> light from{" "}
              {lightWords(document.light.from_deg)}
            </>
          )}
        </p>
      </header>
      {picture && (
        <div className="print-picture">
          <PictureCanvas
            still
            url={pictureUrl(picture.id)}
            alt="Reference with numbered spots"
            width={picture.width}
            height={picture.height}
            spots={spots}
            figures={document.figures}
            selected={null}
            onSelect={() => {}}
          />
        </div>
      )}
      <ol className="print-list">
        {list.map((pickUp) => (
          <li key={pickUp.jobs[0]?.pass_id}>
            <span className="print-stick">
              <span className="stick-dot" style={{ background: pickUp.stick?.hex }} />
              <b className="numbers">{pickUp.code}</b> {pickUp.stick?.name}
            </span>
            <ul>
              {pickUp.jobs.map((job) => (
                <li key={job.pass_id}>
                  <span className="print-box">
                    {done[job.pass_id] === "done" ? "✓" : done[job.pass_id] ? "–" : ""}
                  </span>
                  <span className="numbers">{job.number}</span> <RoleMark role={job.place.role} />{" "}
                  {job.place.name}: {job.manner}
                  {notes[job.pass_id] ? <em> – {notes[job.pass_id]}</em> : null}
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ol>
      {sheet.data?.cautions.map((text) => (
        <p key={text}>{text}</p>
      ))}
    </main>
  );
}
