import { useCallback, useState } from "react";
import { Button } from "react-bootstrap";
import type { Figure, Spot, Study } from "../../api/client";
import { useEditor, usePiece, useSpots as useSeen } from "../../document/useEditor";
import { clamp, type Disc, type Point } from "../../ui/PictureCanvas";
import { SpotPanel } from "./SpotPanel";
import { newId, type Task, thinned } from "./task";

const MOST_CORNERS = 24;
const FROM_DISC = 8;

export type Spots = Task & {
  add: (at: Point) => void;
  change: (id: string, disc: Partial<Disc>) => void;
  corner: (id: string, corner: number, to: Point | null) => void;
  remove: (id: string) => void;
};

type Given = {
  figure: Figure | undefined;
  selected: string | null;
  select: (id: string | null) => void;
  study: Study | undefined;
  /** How many pixels of the picture's longer side are there. */
  fine: number;
};

/** Dropping, moving, outlining and removing spots. */
export function useSpots({ figure, selected, select, study, fine }: Given): Spots {
  const piece = usePiece();
  const seen = useSeen();
  const { edit, editSpot } = useEditor();
  const { spots } = piece.document;
  const { width, height } = piece.picture ?? { width: 1, height: 1 };
  const [outlining, setOutlining] = useState(false);
  const [lasso, setLasso] = useState<Point[]>([]);
  const current = seen.find((spot) => spot.id === selected) ?? null;

  const put = useCallback(
    (part: Pick<Spot, "x" | "y" | "outline">) => {
      if (!figure) return;
      const spot: Spot = {
        id: newId(),
        figure: figure.id,
        name: `Spot ${spots.length + 1}`,
        place: "other",
        role: "middle",
        radius: spots[spots.length - 1]?.radius ?? 0.01,
        recipe: null,
        locked: false,
        family: null,
        ...part,
      };
      edit((held) => ({ ...held, spots: [...held.spots, spot] }));
      select(spot.id);
    },
    [edit, figure, select, spots],
  );
  const change = (id: string, disc: Partial<Disc>) => {
    const spot = spots.find((row) => row.id === id);
    if (!spot) return;
    if (!spot.outline) return editSpot(id, disc);
    const dx = (disc.x ?? spot.x) - spot.x;
    const dy = (disc.y ?? spot.y) - spot.y;
    const moved = spot.outline.map(([x = 0, y = 0]) => [clamp(x + dx, 0, 1), clamp(y + dy, 0, 1)]);
    editSpot(id, { x: spot.x + dx, y: spot.y + dy, outline: moved });
  };
  const corner = (id: string, index: number, to: Point | null) => {
    const outline = spots.find((row) => row.id === id)?.outline;
    if (!outline || (!to && outline.length <= 3)) return;
    const changed = to
      ? outline.map((at, i) => (i === index ? [to.x, to.y] : at))
      : outline.filter((_, i) => i !== index);
    editSpot(id, { outline: changed });
  };
  const remove = (id: string) => {
    const index = spots.findIndex((spot) => spot.id === id);
    edit((held) => ({ ...held, spots: held.spots.filter((spot) => spot.id !== id) }));
    select(spots[index + 1]?.id ?? spots[index - 1]?.id ?? null);
  };
  /** The disc of the chosen spot as an outline with corners to pull, or back. */
  const reshape = (spot: Spot) => {
    const longer = Math.max(width, height);
    const ring = Array.from({ length: FROM_DISC }, (_, i) => {
      const angle = (2 * Math.PI * i) / FROM_DISC;
      return [
        clamp(spot.x + (spot.radius * longer * Math.cos(angle)) / width, 0, 1),
        clamp(spot.y + (spot.radius * longer * Math.sin(angle)) / height, 0, 1),
      ];
    });
    editSpot(spot.id, { outline: spot.outline ? null : ring });
  };
  const close = () => {
    const corners = thinned(lasso, MOST_CORNERS).map((at) => [at.x, at.y]);
    const [x, y] = [0, 1].map(
      (axis) => corners.reduce((sum, at) => sum + (at[axis] ?? 0), 0) / corners.length,
    );
    if (corners.length >= 3) put({ x: x ?? 0.5, y: y ?? 0.5, outline: corners });
    setLasso([]);
    setOutlining(false);
  };
  return {
    add: (at) => put({ ...at, outline: null }),
    change,
    corner,
    remove,
    tool: outlining
      ? {
          down: (at) => setLasso([at]),
          move: (at) => setLasso((held) => [...held, at]),
          up: close,
        }
      : { down: (at) => put({ ...at, outline: null }) },
    above: (size) =>
      lasso.length > 1 && (
        <polyline
          points={lasso.map((at) => `${at.x * size.w},${at.y * size.h}`).join(" ")}
          className="draft-line"
        />
      ),
    panel: (
      <>
        {current ? (
          <SpotPanel
            spot={current}
            fine={fine}
            colourless={study?.colourless ?? false}
            found={study?.spots.find((row) => row.id === selected)}
            onReshape={reshape}
            onRemove={remove}
          />
        ) : (
          <div className="empty-small">
            <h2 className="h4">Look closely</h2>
            <p>
              Tap the lightest light, the darkest dark, and wherever one colour gives way to the next: each
              tap drops a spot and reads its true colour.
            </p>
          </div>
        )}
        <Button
          variant={outlining ? "chosen" : "quiet"}
          size="sm"
          aria-pressed={outlining}
          onClick={() => setOutlining((on) => !on)}
        >
          {outlining ? "Draw around the area" : "Outline an area"}
        </Button>
      </>
    ),
  };
}
