import { type ReactNode, useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { Compared, Schemas } from "../../api/client";
import { squaredUrl } from "../../api/pictures";
import { useSticks } from "../../api/queries";
import { usePiece } from "../../document/useEditor";
import { type At, Handles } from "../../ui/Handles";
import { Segments } from "../../ui/Segments";
import { usePictureShape } from "../../ui/usePictureShape";

const SHOWS = ["swatches", "chart"] as const;
type Show = (typeof SHOWS)[number];
const SHOWN: Record<Show, string> = { swatches: "my own swatches", chart: "a 24-patch chart" };
const CORNERS = ["upper left", "upper right", "lower right", "lower left"].map((at) => `Chart, ${at}`);
const CHART: At[] = [
  [0.3, 0.78],
  [0.7, 0.78],
  [0.7, 0.96],
  [0.3, 0.96],
];
const FEWEST = 4;
const MOST = 24;

type Props = {
  compared: Compared;
  waiting: boolean;
  problem: ReactNode;
  onSet: (asked: Schemas["ChangeComparisonRequest"]) => void;
  onLeave: () => void;
};

/** What lies beside the drawing and tells of the camera: swatches of sticks that cards have shown, or a chart. */
export function Anchor({ compared, waiting, problem, onSet, onLeave }: Props) {
  const piece = usePiece();
  const { sticks } = useSticks(piece.document.tray);
  const medium = piece.document.setup.medium;
  const own = sticks.filter((stick) => stick.medium === medium);
  const [show, setShow] = useState<Show>(compared.chart ? "chart" : "swatches");
  const [chart, setChart] = useState<At[]>((compared.chart as At[] | null) ?? CHART);
  const [swatches, setSwatches] = useState(compared.beside);
  const url = squaredUrl(compared.picture, compared.corners as At[]);
  const [shape, loaded] = usePictureShape(url);
  const isChart = show === "chart";
  const points = isChart ? chart : swatches.map((one): At => [one.x, one.y]);
  const nameOf = (code: string) => own.find((stick) => stick.code === code)?.name ?? "";
  const unused = own.find((stick) => !swatches.some((one) => one.stick === stick.code));
  const canAdd = !isChart && swatches.length < MOST && unused !== undefined;
  const names = isChart
    ? CORNERS
    : swatches.map((one, i) => `Swatch ${i + 1}, ${one.stick} ${nameOf(one.stick)}`.trim());
  const move = (to: At[]) =>
    isChart
      ? setChart(to)
      : setSwatches(swatches.map((one, i) => ({ ...one, x: to[i]?.[0] ?? one.x, y: to[i]?.[1] ?? one.y })));
  const add = ([x, y]: At) => unused && setSwatches([...swatches, { x, y, stick: unused.code }]);
  return (
    <div className="compare-set">
      <Segments
        label="What lies beside it"
        choices={SHOWS}
        chosen={show}
        onChoose={setShow}
        say={(way) => SHOWN[way]}
      />
      <p className="hint">
        {isChart
          ? "Set the four marks on its outermost patches' corners. It must lie on the sheet."
          : `Lay ${FEWEST} swatches or more beside the drawing, closed, once and as hard as you go; tap each and say which it is. Trial cards must have shown them.`}
      </p>
      {loaded}
      <Handles
        url={url}
        alt="Your sheet"
        width={shape[0]}
        height={shape[1]}
        points={points}
        names={names}
        joined={isChart}
        onMove={move}
        onTap={canAdd ? add : undefined}
      />
      {!isChart && (
        <ol className="compare-beside">
          {swatches.map((one, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a swatch is its place in the order
            <li key={i}>
              <Form.Select
                size="sm"
                aria-label={`What lies in swatch ${i + 1}`}
                value={one.stick}
                onChange={(event) =>
                  setSwatches(
                    swatches.map((row, j) => (j === i ? { ...row, stick: event.target.value } : row)),
                  )
                }
              >
                {own.map((stick) => (
                  <option key={stick.code} value={stick.code}>
                    {stick.code} {stick.name}
                  </option>
                ))}
              </Form.Select>
              <Button
                variant="quiet"
                size="sm"
                aria-label={`Remove swatch ${i + 1}`}
                onClick={() => setSwatches(swatches.filter((_, j) => j !== i))}
              >
                remove
              </Button>
            </li>
          ))}
        </ol>
      )}
      {problem}
      <div className="compare-deeds">
        {canAdd && (
          <Button variant="quiet" onClick={() => add([0.1 + 0.08 * (swatches.length % 10), 0.95])}>
            mark a swatch
          </Button>
        )}
        {(compared.chart || compared.beside.length > 0) && (
          <Button variant="quiet" disabled={waiting} onClick={() => onSet({ chart: [] })}>
            by the paper alone
          </Button>
        )}
        <Button variant="quiet" onClick={onLeave}>
          leave it
        </Button>
        <Button
          variant="act"
          disabled={waiting || (!isChart && swatches.length < FEWEST)}
          onClick={() => onSet(isChart ? { chart } : { beside: swatches })}
        >
          {waiting ? "Reading it …" : "Read it so"}
        </Button>
      </div>
    </div>
  );
}
