import { useState } from "react";
import { Form } from "react-bootstrap";
import { Link } from "react-router";
import type { Piece } from "../../api/client";
import { type SheetKind, transferUrl } from "../../api/files";
import { useTransfer } from "../../api/queries";
import { Trouble } from "../../ui/Failed";
import { Slider } from "../../ui/Slider";
import { useSettled } from "../../ui/useSettled";

const A4 = { w: 210, h: 297 };
const SETTLED_MS = 250;

/** The drawing's borders at true size, to be carried over to the paper: the pages as they are printed. */
export function TransferPage({ piece }: { piece: Piece }) {
  const { format: sheet } = piece.document;
  const [steps, setSteps] = useState(5);
  const [parts, setParts] = useState(false);
  const [mirrored, setMirrored] = useState(false);
  const fits = sheet.width_mm <= A4.w && sheet.height_mm <= A4.h;
  const shown = useSettled(steps, SETTLED_MS);
  const drawn = useTransfer(piece.id, piece.keys.transfer, { steps: shown, mirrored, parts });
  const address = (kind: SheetKind) => transferUrl(piece.id, kind, { steps, mirrored, parts });
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
            checked={parts}
            onChange={(event) => setParts(event.target.checked)}
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
      {drawn.error && <Trouble error={drawn.error} onAgain={() => void drawn.refetch()} />}
      {drawn.isPending && (
        <p className="print-tools hint" aria-live="polite">
          Drawing the borders …
        </p>
      )}
      {drawn.data && (
        <img
          className="transfer-sheet"
          src={`data:image/svg+xml,${encodeURIComponent(drawn.data)}`}
          alt="Transfer page"
        />
      )}
    </main>
  );
}
