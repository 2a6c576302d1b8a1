import { useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { pictureUrl, Refusal, type Schemas, type SwatchData, server } from "../../api/client";

type Place = Schemas["DiscRequest"];
const RADIUS = 0.02;

/** Reads a paper's colour from a photograph on which a white sheet lies beside it: two clicks. */
export function PaperPhoto({ onRead }: { onRead: (swatch: SwatchData) => void }) {
  const file = useRef<HTMLInputElement>(null);
  const [picture, setPicture] = useState<Schemas["Picture"] | null>(null);
  const [paper, setPaper] = useState<Place | null>(null);
  const [said, setSaid] = useState("");
  const fail = (error: unknown) =>
    setSaid(error instanceof Refusal ? `${error.message} Nothing was changed.` : String(error));
  const open = (chosen: File | undefined) => {
    if (!chosen) return;
    setPaper(null);
    setSaid("");
    server.addPicture(chosen).then(setPicture, fail);
  };
  const click = (event: React.MouseEvent<HTMLImageElement>) => {
    if (!picture) return;
    const box = event.currentTarget.getBoundingClientRect();
    const x = (event.clientX - box.left) / box.width;
    const place = { x, y: (event.clientY - box.top) / box.height, radius: RADIUS };
    if (!paper) {
      setPaper(place);
      return;
    }
    server.patch(picture.id, { paper, white: place }).then((swatch) => {
      onRead(swatch);
      setSaid(`Read: ${swatch.words}, value ${swatch.value.toFixed(1)}.`);
      setPaper(null);
    }, fail);
  };
  return (
    <div className="paper-photo">
      <input
        ref={file}
        type="file"
        hidden
        accept="image/*"
        aria-label="Photograph of the paper"
        onChange={(event) => {
          open(event.target.files?.[0]);
          event.target.value = "";
        }}
      />
      <Button variant="quiet" size="sm" onClick={() => file.current?.click()}>
        Read the colour from a photograph
      </Button>
      <p className="hint" role="status">
        {said ||
          (picture
            ? paper
              ? "Now click the white sheet beside it."
              : "Click the paper on the photograph."
            : "Lay a plain white sheet beside the paper, so that lamp and camera do not count.")}
      </p>
      {picture && (
        // biome-ignore lint/a11y/useKeyWithClickEvents: the numbers above are the way for the keyboard
        <img src={pictureUrl(picture.id)} alt="The photographed paper" onClick={click} />
      )}
    </div>
  );
}
