import { useState } from "react";
import { Button } from "react-bootstrap";
import type { Compared, Schemas } from "../../api/client";
import { squaredUrl } from "../../api/pictures";
import { type At, Handles } from "../../ui/Handles";
import { usePictureShape } from "../../ui/usePictureShape";

const FRAME = ["upper left", "upper right", "lower right", "lower left"].map((at) => `Picture, ${at}`);

type Props = {
  compared: Compared;
  what: "frame" | "spots";
  spots: { id: string; name: string }[];
  waiting: boolean;
  onSet: (asked: Schemas["ChangeComparisonRequest"]) => void;
  onLeave: () => void;
};

/** The picture's corners on the sheet, or the places on the drawing, set by hand. */
export function ByHand({ compared, what, spots, waiting, onSet, onLeave }: Props) {
  const its = compared.spots.filter((row) => spots.some((spot) => spot.id === row.spot));
  const [points, setPoints] = useState<At[]>(
    what === "frame" ? (compared.frame as At[]) : its.map((row) => [row.x, row.y]),
  );
  const frame = what === "frame";
  const url = frame
    ? squaredUrl(compared.picture, compared.corners as At[])
    : `/api/comparisons/${compared.id}/picture?size=960`;
  const [shape, loaded] = usePictureShape(url);
  const all = Object.fromEntries(compared.spots.map((row) => [row.spot, [row.x, row.y] as [number, number]]));
  return (
    <div className="compare-set">
      <p className="hint">
        {frame
          ? "Set the corners of the piece's picture where it lies on your sheet."
          : "Drag each place to where it is on your drawing."}
      </p>
      {loaded}
      <Handles
        url={url}
        alt={frame ? "Your sheet" : "Your drawing"}
        width={shape[0]}
        height={shape[1]}
        points={points}
        names={frame ? FRAME : its.map((row) => spots.find((spot) => spot.id === row.spot)?.name ?? row.spot)}
        joined={frame}
        onMove={setPoints}
      />
      <div className="compare-deeds">
        <Button variant="quiet" onClick={onLeave}>
          leave it
        </Button>
        <Button
          variant="act"
          disabled={waiting}
          onClick={() =>
            onSet(
              frame
                ? { frame: points }
                : {
                    moved: {
                      ...all,
                      ...Object.fromEntries(its.map((row, i) => [row.spot, points[i] ?? [0, 0]])),
                    },
                  },
            )
          }
        >
          {waiting ? "Reading it …" : "Read it so"}
        </Button>
      </div>
    </div>
  );
}
