import { type ReactNode, useEffect, useState } from "react";
import { Button } from "react-bootstrap";
import type { Figure } from "../../api/client";
import { layeredUrl, pictureUrl, sized, viewUrl } from "../../api/pictures";
import { usePiece } from "../../document/useEditor";
import { useView } from "../../document/useView";
import { Crop } from "../../ui/Crop";
import { Trouble } from "../../ui/Failed";
import { TakeAlong } from "../../ui/LazyTakeAlong";

const SMALL = 480;
const LARGE = 960;
const STILL_MS = 350;
/** About so many pixels of the page are as wide as what is seen of the reference. */
const WIDE = 300;

type Props = {
  figure: Figure;
  /** The names of all maps there are. */
  maps: string[];
  values: boolean;
  onValues: (values: boolean) => void;
  /** How many layers of the figure are laid, of how many; every: of the whole piece. */
  /** Why there are no maps, and another go. */
  failed: Error | null;
  onAgain: () => void;
  upto: number;
  count: number;
  every: number;
  /** The layer that is picked, with its number. */
  layer?: { id: string; number: number } | undefined;
  /** Over the reference. */
  children: ReactNode;
};

/** The reference and, touching it, the drawing after so many layers: same size, in colour or in greys. */
export function LayersPicture({
  figure,
  maps,
  values,
  onValues,
  failed,
  onAgain,
  upto,
  count,
  every,
  layer,
  children,
}: Props) {
  const piece = usePiece();
  const view = useView(figure.id);
  const still = useStill(upto);
  const { picture } = piece;
  if (!picture) return null;
  const size = still ? LARGE : SMALL;
  const whole = values ? viewUrl(piece, "values", 9, false, false) : pictureUrl(picture.id);
  const reference = sized(whole, WIDE / view.width);
  const said = upto === 0 ? "bare paper" : `after layer ${upto} of ${count}`;
  return (
    <section className="layers-picture" aria-label="Reference and drawing">
      <div className="layers-pair">
        <div className="layers-over">
          <Crop url={reference} alt="The reference" view={view} />
          {children}
        </div>
        {maps.length > 0 ? (
          <Crop url={layeredUrl(piece, maps, every, size, values)} alt={`The drawing ${said}`} view={view} />
        ) : (
          <span className="layers-wait hint">
            {failed && <Trouble error={failed} onAgain={onAgain} />}
            {!failed && (count > 0 ? "Drawing the maps …" : "No layers yet")}
          </span>
        )}
      </div>
      <div className="layers-caps">
        <span>
          Your reference
          {count > 0 && <TakeAlong piece={piece.id} mapped layer={layer} />}
        </span>
        <span>
          <b>{upto === 0 ? "Bare paper" : `After layer ${upto}`}</b>
          <Button variant="quiet" size="sm" aria-pressed={values} onClick={() => onValues(!values)}>
            {values ? "in colour" : "in greys"}
          </Button>
        </span>
      </div>
    </section>
  );
}

/** Whether something has not changed for a moment. */
function useStill(of: unknown): boolean {
  const [held, setHeld] = useState<unknown>(null);
  useEffect(() => {
    const timer = setTimeout(() => setHeld(of), STILL_MS);
    return () => clearTimeout(timer);
  }, [of]);
  return held === of;
}
