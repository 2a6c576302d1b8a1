import type { SeenSpot } from "../../api/client";
import { sized, viewUrl } from "../../api/pictures";
import { usePiece } from "../../document/useEditor";
import { Crop } from "../../ui/Crop";
import { LaidColour } from "../../ui/Swatch";

/** How much of the picture is seen around a spot: so many of its radii, and no less than this part of a side. */
const [RADII, LEAST] = [3, 0.03];
/**
 * What lies at a spot and around it, and its one colour as it would be laid: touching, in the mount. fine: how many
 * pixels of the picture's longer side are there anyway.
 */
export function Nearby({ spot, fine }: { spot: SeenSpot; fine: number }) {
  const piece = usePiece();
  const { picture, document } = piece;
  if (!picture) return null;
  const longer = Math.max(picture.width, picture.height);
  const reach = Math.max(LEAST, RADII * spot.radius) * longer;
  const width = (2 * reach) / picture.width;
  const height = (2 * reach) / picture.height;
  const view = { x: spot.x - width / 2, y: spot.y - height / 2, width, height };
  const ring = (100 * spot.radius * longer) / (2 * reach);
  return (
    <div className="nearby">
      <span className="nearby-there">
        {fine > 0 && (
          <Crop
            url={sized(viewUrl(piece, "as_it_is", 0, false, false), fine)}
            alt={`The picture around ${spot.name}`}
            view={view}
          />
        )}
        {!spot.outline && (
          <svg viewBox="0 0 100 100" aria-hidden="true">
            <circle cx={50} cy={50} r={ring} className="line-outer" />
            <circle cx={50} cy={50} r={ring} className="line-inner" />
          </svg>
        )}
      </span>
      {spot.reading && (
        <LaidColour swatch={spot.reading.swatch} medium={document.setup.medium} label="As one colour" />
      )}
    </div>
  );
}
