import { useState } from "react";
import { Button } from "react-bootstrap";
import type { Schemas } from "../api/client";
import { squaredUrl } from "../api/pictures";
import { type At, Handles } from "./Handles";
import { NumberField } from "./NumberField";
import { Segments } from "./Segments";
import {
  boxAt,
  frameBetween,
  gridOf,
  type Named,
  resized,
  type SeenSheet,
  type SheetBox,
} from "./swatchSheet";

export type Asked = Schemas["AskSheetRequest"];
type Show = "swatches" | "grid" | "corners" | "chart";

const SHOWN: Record<Show, string> = {
  swatches: "the swatches",
  grid: "lay a grid",
  corners: "the sheet's corners",
  chart: "a 24-patch chart",
};
const SHOWS = Object.keys(SHOWN) as Show[];
const CORNERS = ["upper left", "upper right", "lower right", "lower left"];
const CHART: At[] = [
  [0.3, 0.6],
  [0.7, 0.6],
  [0.7, 0.9],
  [0.3, 0.9],
];
const TAPPED = 0.08;
const SIZE_STEP = 1.15;

type Props = {
  picture: { id: string; width: number; height: number };
  photo: string;
  sheet: SeenSheet;
  asked: Asked;
  names: readonly Named[];
  picked: number | null;
  onAsk: (asked: Asked) => void;
  onPick: (at: number) => void;
  onLeave: (at: number) => void;
};

/** A photographed sheet seen from above, with what is read of it: swatches found, tapped or laid out by a grid. */
export function PhotoSheet({ picture, photo, sheet, asked, names, picked, onAsk, onPick, onLeave }: Props) {
  const [show, setShow] = useState<Show>("swatches");
  const corners = sheet.corners as At[];
  const boxes: SheetBox[] = asked.boxes ?? sheet.swatches.map((row) => row.place);
  const grid = asked.grid ?? { ...gridOf(boxes), count: 0 };
  const chart = (asked.chart as At[] | null | undefined) ?? CHART;
  const keep = (next: SheetBox[]) => onAsk({ corners, chart: asked.chart, boxes: next });
  const lay = (part: Partial<typeof grid>) =>
    onAsk({ corners, chart: asked.chart, grid: { ...grid, ...part } });
  const choose = (next: Show) => {
    setShow(next);
    if (next === "chart" && !asked.chart) onAsk({ ...asked, corners, chart });
    if (next === "grid" && !asked.grid) lay({});
  };
  const { left, top, right, bottom } = grid.frame;
  const ofShow: Record<Show, { points: At[]; names: string[]; move: (to: At[]) => void }> = {
    swatches: { points: [], names: [], move: () => {} },
    grid: {
      points: [
        [left, top],
        [right, bottom],
      ],
      names: ["Grid, upper left", "Grid, lower right"],
      move: ([one, other]) => one && other && lay({ frame: frameBetween(one, other) }),
    },
    corners: {
      points: (asked.corners as At[] | null | undefined) ?? corners,
      names: CORNERS.map((corner) => `Corner, ${corner}`),
      move: (to) => onAsk({ corners: to }),
    },
    chart: {
      points: chart,
      names: CORNERS.map((corner) => `Chart, ${corner}`),
      move: (to) => onAsk({ ...asked, corners, chart: to }),
    },
  };
  const { points, names: said, move } = ofShow[show];
  return (
    <div className="photo-sheet">
      <Segments
        label="What is set"
        choices={SHOWS}
        chosen={show}
        onChoose={choose}
        say={(way) => SHOWN[way]}
      />
      <Handles
        key={show === "corners" ? "photo" : "sheet"}
        url={show === "corners" ? photo : squaredUrl(picture.id, corners)}
        alt={show === "corners" ? "The photograph" : "The sheet from above"}
        width={show === "corners" ? picture.width : sheet.width}
        height={show === "corners" ? picture.height : sheet.height}
        points={points}
        names={said}
        joined={show === "corners" || show === "chart"}
        onMove={move}
        onTap={
          show === "swatches"
            ? (at) => {
                onPick(boxes.length);
                keep([...boxes, boxAt(at, boxes, TAPPED, sheet.width / sheet.height)]);
              }
            : undefined
        }
      >
        {show !== "corners" &&
          boxes.map((box, i) => (
            <button
              // biome-ignore lint/suspicious/noArrayIndexKey: a swatch is its place in the order
              key={i}
              type="button"
              className={`seen-swatch${picked === i ? " is-picked" : ""}${sheet.swatches[i]?.said ? " is-doubtful" : ""}`}
              aria-label={`Swatch ${i + 1}${names[i] ? `, ${names[i].code} ${names[i].name}` : ""}`}
              style={{
                left: `${100 * box.left}%`,
                top: `${100 * box.top}%`,
                width: `${100 * (box.right - box.left)}%`,
                height: `${100 * (box.bottom - box.top)}%`,
              }}
              onClick={() => onPick(i)}
              onKeyDown={(event) => (event.key === "Delete" || event.key === "Backspace") && onLeave(i)}
            >
              <span>{i + 1}</span>
            </button>
          ))}
      </Handles>
      <div className="photo-more">
        {show === "grid" && (
          <>
            <NumberField
              label="Rows"
              value={grid.rows}
              low={1}
              high={60}
              onSet={(rows) => lay({ rows: Math.round(rows) })}
            />
            <NumberField
              label="In each"
              value={grid.columns}
              low={1}
              high={60}
              onSet={(columns) => lay({ columns: Math.round(columns) })}
            />
            <span className="hint">Drag its two ends over the first swatch and the last.</span>
          </>
        )}
        {show === "corners" && (
          <span className="hint">On the corners of the paper, or of the part of it that counts.</span>
        )}
        {show === "chart" && (
          <>
            <span className="hint">On its outermost patches' corners. It must lie on the sheet.</span>
            <Button
              variant="quiet"
              size="sm"
              onClick={() => {
                onAsk({ ...asked, chart: null });
                setShow("swatches");
              }}
            >
              no chart
            </Button>
          </>
        )}
        {show === "swatches" && (
          <>
            <span className="hint">Tap what was not found.</span>
            <Button
              variant="quiet"
              size="sm"
              disabled={!boxes.length}
              onClick={() => keep(resized(boxes, 1 / SIZE_STEP))}
            >
              smaller
            </Button>
            <Button
              variant="quiet"
              size="sm"
              disabled={!boxes.length}
              onClick={() => keep(resized(boxes, SIZE_STEP))}
            >
              larger
            </Button>
            <Button variant="quiet" size="sm" disabled={!boxes.length} onClick={() => keep([])}>
              none of these
            </Button>
          </>
        )}
      </div>
    </div>
  );
}
