import { useState } from "react";
import { Form } from "react-bootstrap";
import { Link } from "react-router";
import type { Piece } from "../../api/client";
import { type SheetKind, transferUrl } from "../../api/files";
import { useTransfer } from "../../api/queries";
import { LightArrow } from "../../ui/LightArrow";
import { Slider } from "../../ui/Slider";
import { gridPath } from "./measures";

const A4 = { w: 210, h: 297 };
const EDGE_MM = 8;

type Tile = { x: number; y: number; w: number; h: number; name: string };

/** The pages to print: the whole sheet, or the sheet cut into home-printer pages that overlap by their margins. */
function tiles(width: number, height: number, onA4: boolean): Tile[] {
  if (!onA4) return [{ x: 0, y: 0, w: width, h: height, name: "" }];
  const [w, h] = [A4.w - 2 * EDGE_MM, A4.h - 2 * EDGE_MM];
  const [columns, rows] = [Math.ceil(width / w), Math.ceil(height / h)];
  return Array.from({ length: rows * columns }, (_, i) => {
    const [column, row] = [i % columns, Math.floor(i / columns)];
    return {
      x: column * w - EDGE_MM,
      y: row * h - EDGE_MM,
      w: A4.w,
      h: A4.h,
      name: `${String.fromCharCode(65 + row)}${column + 1} of ${rows * columns}`,
    };
  });
}

/** The drawing's borders at true size, to be carried over to the paper. */
export function TransferPage({ piece }: { piece: Piece }) {
  const { format: sheet, grid, light } = piece.document;
  const [steps, setSteps] = useState(5);
  const [onA4, setOnA4] = useState(false);
  const [mirrored, setMirrored] = useState(false);
  const transfer = useTransfer(piece.id, piece.keys.transfer, steps);
  const made = transfer.data;
  const pages = tiles(sheet.width_mm, sheet.height_mm, onA4);
  const fits = sheet.width_mm <= A4.w && sheet.height_mm <= A4.h;
  const address = (kind: SheetKind) => transferUrl(piece.id, kind, { steps, mirrored, parts: onA4 });
  return (
    <main className="transfer">
      <h1 className="visually-hidden">{piece.title}, to be carried over</h1>
      <div className="print-tools">
        <Link to={`/pieces/${piece.id}/look`} className="btn btn-quiet">
          Back
        </Link>
        <Slider label={`${steps} values`} low={2} high={9} value={steps} onSet={setSteps} />
        <Form.Check
          type="switch"
          id="mirrored"
          label="Mirrored, to rub off from behind"
          checked={mirrored}
          onChange={(event) => setMirrored(event.target.checked)}
        />
        {!fits && (
          <Form.Check
            type="switch"
            id="on-a4"
            label="On A4 pages, to be joined"
            checked={onA4}
            onChange={(event) => setOnA4(event.target.checked)}
          />
        )}
        <a href={address("svg")} download>
          SVG
        </a>
        <a href={address("png")} download>
          PNG
        </a>
        <a className="btn btn-act" href={address("pdf")} target="_blank" rel="noreferrer">
          Print at true size
        </a>
      </div>
      <p className="print-tools hint">
        Print at 100 %, not fitted to the page: the line at the foot is 50 mm long. Draw lightly; graphite
        shines through pale colours, so lift it before they go on.
      </p>
      {transfer.error && <p role="alert">{transfer.error.message}</p>}
      {made &&
        pages.map((tile) => (
          <svg
            key={tile.name}
            className="transfer-sheet"
            width={`${tile.w}mm`}
            height={`${tile.h}mm`}
            viewBox={`${tile.x} ${tile.y} ${tile.w} ${tile.h}`}
            role="img"
            aria-label={`Transfer page ${tile.name}`}
          >
            <g transform={mirrored ? `translate(${sheet.width_mm} 0) scale(-1 1)` : undefined}>
              <rect width={sheet.width_mm} height={sheet.height_mm} className="sheet-edge" />
              <svg
                x={made.placement.left_mm}
                y={made.placement.top_mm}
                width={made.placement.width_mm}
                height={made.placement.height_mm}
                viewBox={`${made.placement.left_mm} ${made.placement.top_mm} ${made.placement.width_mm} ${made.placement.height_mm}`}
                aria-hidden="true"
              >
                {made.lines.map((line) => (
                  <path key={line.path} d={line.path} className={`line-${line.kind}`} />
                ))}
              </svg>
              <rect
                x={made.placement.left_mm}
                y={made.placement.top_mm}
                width={made.placement.width_mm}
                height={made.placement.height_mm}
                className="sheet-frame"
              />
              {grid && (
                <path
                  transform={`translate(${made.placement.left_mm} ${made.placement.top_mm})`}
                  d={gridPath(
                    grid.columns,
                    grid.rows,
                    grid.diagonals,
                    made.placement.width_mm,
                    made.placement.height_mm,
                  )}
                  className="sheet-grid"
                />
              )}
              {made.spots.map((spot) => (
                <g key={spot.id} transform={`translate(${spot.x_mm} ${spot.y_mm})`}>
                  <circle r={1} className="sheet-spot" />
                  <text
                    x={1.6}
                    y={1.2}
                    className="sheet-number"
                    transform={mirrored ? "scale(-1 1)" : undefined}
                    textAnchor={mirrored ? "end" : "start"}
                  >
                    {spot.number}
                  </text>
                </g>
              ))}
            </g>
            {light && (
              <svg
                x={tile.x + EDGE_MM}
                y={tile.y + EDGE_MM}
                width={14}
                height={14}
                viewBox="0 0 40 40"
                aria-hidden="true"
              >
                <LightArrow fromDeg={mirrored ? (540 - light.from_deg) % 360 : light.from_deg} />
              </svg>
            )}
            <g transform={`translate(${tile.x + EDGE_MM} ${tile.y + tile.h - 5})`}>
              <path d="M0 -1.5V0H50V-1.5" className="sheet-ruler" />
              <text x={52} y={0} className="sheet-number">
                50 mm {piece.title} {tile.name}
              </text>
            </g>
          </svg>
        ))}
    </main>
  );
}
