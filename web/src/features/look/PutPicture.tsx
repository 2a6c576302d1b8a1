import { useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { Link } from "react-router";
import { server } from "../../api/client";
import { problemOf, useWrite } from "../../api/mutations";
import { useEditor, usePiece } from "../../document/useEditor";
import { PictureInput } from "../../ui/PictureInput";

/** Takes a reference by drag or by file dialog; `again` is the small button once there is one. */
export function PutPicture({ again = false }: { again?: boolean }) {
  const { edit } = useEditor();
  const piece = usePiece();
  const file = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const add = useWrite(server.addPicture, ["space"], (picture) =>
    // What was seen in the old picture says nothing about the new one; spots are read anew.
    edit((document) => ({
      ...document,
      picture: picture.id,
      balance: null,
      figures: document.figures.map((figure) => ({ ...figure, face: null, strokes: [] })),
    })),
  );
  const busy = add.isPending;
  const problem = problemOf(add.error, "Your piece is as it was.");
  const take = (chosen: File | undefined) => {
    if (chosen) add.mutate(chosen);
  };
  const input = <PictureInput input={file} onChoose={take} />;
  const said = problem && (
    <p className="problem" role="alert">
      {problem}
    </p>
  );
  if (again) {
    return (
      <>
        {input}
        {said}
        <Button variant="quiet" size="sm" disabled={busy} onClick={() => file.current?.click()}>
          {busy ? "Reading…" : "Another picture"}
        </Button>
      </>
    );
  }
  return (
    <main className="page">
      <section
        className={`drop${over ? " is-over" : ""}`}
        aria-label="Put in a picture"
        onDragOver={(event) => {
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => {
          event.preventDefault();
          setOver(false);
          take(event.dataTransfer.files[0]);
        }}
      >
        {input}
        <h1 className="h2">Put in your reference</h1>
        <p>
          Drag a picture here, or choose a file: JPEG, PNG, WebP, TIFF, HEIC or a PDF page, up to 64 MB and 64
          million pixels. Use pictures you may use; nobody else sees them.
        </p>
        <Button variant="act" disabled={busy} onClick={() => file.current?.click()}>
          {busy ? "Reading the picture…" : "Choose a picture"}
        </Button>
        <Link to={`/complexions?piece=${piece.id}`}>or describe who it is, and imagine the light</Link>
        {said}
      </section>
    </main>
  );
}
