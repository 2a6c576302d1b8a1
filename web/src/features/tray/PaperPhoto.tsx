import { useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { type Schemas, type SwatchData, server } from "../../api/client";
import { problemOf, useWrite } from "../../api/mutations";
import { pictureUrl } from "../../api/pictures";

type Place = Schemas["DiscRequest"];
const RADIUS = 0.02;

/** Reads a paper's colour from a photograph on which a white sheet lies beside it: two clicks. */
export function PaperPhoto({ onRead }: { onRead: (swatch: SwatchData) => void }) {
  const file = useRef<HTMLInputElement>(null);
  const [paper, setPaper] = useState<Place | null>(null);
  const photo = useWrite(server.addPicture, ["space"]);
  const read = useWrite(
    (places: { paper: Place; white: Place }) => server.patch(photo.data?.id ?? "", places),
    [],
    (swatch) => {
      onRead(swatch);
      setPaper(null);
    },
  );
  const picture = photo.data;
  const open = (chosen: File | undefined) => {
    if (!chosen) return;
    setPaper(null);
    read.reset();
    photo.mutate(chosen);
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
    read.mutate({ paper, white: place });
  };
  const said =
    problemOf(photo.error ?? read.error) ||
    (read.data && `Read: ${read.data.words}, value ${read.data.value.toFixed(1)}.`);
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
