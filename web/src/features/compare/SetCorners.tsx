import { type ReactNode, useState } from "react";
import { Button } from "react-bootstrap";
import { pictureUrl, sized } from "../../api/pictures";
import { type At, Handles } from "../../ui/Handles";

const NAMES = ["upper left", "upper right", "lower right", "lower left"].map((at) => `Sheet, ${at}`);
const BEGIN: At[] = [
  [0.1, 0.08],
  [0.9, 0.08],
  [0.9, 0.92],
  [0.1, 0.92],
];
const SHOWN = 1500;

type Props = {
  picture: { id: string; width: number; height: number };
  waiting: boolean;
  problem: ReactNode;
  onSet: (corners: At[]) => void;
  onLeave: () => void;
};

/** The sheet's corners set by hand, under a loupe. */
export function SetCorners({ picture, waiting, problem, onSet, onLeave }: Props) {
  const [corners, setCorners] = useState<At[]>(BEGIN);
  return (
    <section className="compare-corners" aria-label="The sheet's corners">
      <h1>Where does the sheet end?</h1>
      {problem}
      <p className="hint">
        Drag the four marks onto the paper's corners; onto the photograph's own corners where the drawing
        fills it.
      </p>
      <Handles
        url={sized(pictureUrl(picture.id), SHOWN)}
        alt="The photograph"
        width={picture.width}
        height={picture.height}
        points={corners}
        names={NAMES}
        joined
        onMove={setCorners}
      />
      <div className="compare-deeds">
        <Button variant="quiet" onClick={onLeave}>
          another photograph
        </Button>
        <Button variant="act" disabled={waiting} onClick={() => onSet(corners)}>
          {waiting ? "Laying it over its picture …" : "Read it so"}
        </Button>
      </div>
    </section>
  );
}
