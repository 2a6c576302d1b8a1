import { Button } from "react-bootstrap";
import type { Sheet } from "../../api/client";
import { useSticks } from "../../api/queries";
import { useEditing, useEditor, usePiece, useSpots } from "../../document/useEditor";
import { StickDot } from "../../ui/Swatch";
import { pickUps } from "./jobs";

/** Recipes spot by spot, made before there were layers: to be read, with what was ticked of them. */
export function OldSheet({ sheet }: { sheet: Sheet }) {
  const piece = usePiece();
  const { plan } = useEditor();
  const busy = useEditing((state) => state.busy);
  const { sticks } = useSticks(piece.document.tray);
  const list = pickUps(sheet, useSpots(), sticks);
  const { done } = piece.work;
  return (
    <main className="page old-sheet">
      <div className="page-head">
        <h1>Spot by spot</h1>
        <Button variant="act" disabled={busy} onClick={() => plan([], 0)}>
          {busy ? "Planning …" : "Plan in layers"}
        </Button>
      </div>
      <p>
        These recipes were made for single spots, before faces were planned in layers. They stay as they are,
        to be read; planning in layers puts a few layers in their place, and Undo brings them back.
      </p>
      <ol className="all-steps">
        {list.map((pickUp) => (
          <li key={pickUp.jobs[0]?.pass_id}>
            <StickDot hex={pickUp.stick?.swatch.hex ?? "transparent"} />{" "}
            <span>
              <b>{pickUp.code}</b> {pickUp.stick?.name}
            </span>
            <span className="hint">
              {pickUp.jobs
                .map((job) => `${job.place.name}, ${job.manner}${done[job.pass_id] ? " ✓" : ""}`)
                .join(" · ")}
            </span>
          </li>
        ))}
      </ol>
    </main>
  );
}
