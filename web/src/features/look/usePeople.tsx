import { type ReactNode, useState } from "react";
import { Button } from "react-bootstrap";
import { type Spot, type Stroke, type Study, server } from "../../api/client";
import { problemOf, useWrite } from "../../api/mutations";
import { useLimits } from "../../api/queries";
import { useEditor, usePiece } from "../../document/useEditor";
import type { Point, Size } from "../../ui/PictureCanvas";
import { PeoplePanel } from "./PeoplePanel";
import { Proposals } from "./Proposed";
import type { Painting, Proposal } from "./proposal";
import { newId, type Task, thinned } from "./task";

const MOST_POINTS = 120;

type Given = {
  figure: string;
  onFigure: (id: string) => void;
  study: Study | undefined;
  chosen: Spot | null;
  onPaint: () => void;
  onTaken: (first: string) => void;
};

/** Whose skin is where: figures, strokes over the skin, and spots that Caltin proposes. */
export function usePeople({ figure, onFigure, study, chosen, onPaint, onTaken }: Given): Task & {
  suggest: () => void;
  busy: boolean;
  proposal: Proposal | null;
  /** Taking the proposal, as long as there is one. */
  deed: ReactNode;
} {
  const piece = usePiece();
  const { edit } = useEditor();
  const { figures } = piece.document;
  const limits = useLimits();
  const [painting, setPainting] = useState<Painting>(null);
  const [points, setPoints] = useState<Point[]>([]);
  const [proposal, setProposal] = useState<Proposal | null>(null);
  const [full, setFull] = useState("");
  const ask = useWrite(
    () => server.suggest(piece.id),
    [],
    // What is doubtful counts only once somebody has looked at it.
    (found) =>
      setProposal({
        ...found,
        dropped: new Set(found.spots.flatMap((spot, i) => (spot.doubt ? [i] : []))),
      }),
  );
  const index = figures.findIndex((row) => row.id === figure);
  const longer = (size: Size) => Math.max(size.w, size.h) * (painting?.radius ?? 0);

  const stroke = (last: Point) => {
    if (!painting) return;
    keep({
      add: painting.add,
      radius: painting.radius,
      points: thinned([...points, last], MOST_POINTS).map((at) => [at.x, at.y]),
    });
    setPoints([]);
  };
  const keep = (drawn: Stroke) => {
    if ((figures[index]?.strokes.length ?? 0) >= (limits.strokes ?? 0))
      return setFull(`There are ${limits.strokes} strokes, the most there can be. Undo some of them first.`);
    edit((held) => ({
      ...held,
      figures: held.figures.map((row, i) =>
        i === index ? { ...row, strokes: [...row.strokes, drawn] } : row,
      ),
    }));
  };
  const suggest = () => {
    setFull("");
    ask.mutate(undefined);
  };
  const toggle = (i: number) =>
    setProposal((held) => {
      if (!held) return held;
      const dropped = new Set(held.dropped);
      if (!dropped.delete(i)) dropped.add(i);
      return { ...held, dropped };
    });
  const take = () => {
    if (!proposal) return;
    const taken = proposal.spots.filter((_, i) => !proposal.dropped.has(i));
    const wanted = new Set(taken.map((spot) => spot.figure));
    const counted: Record<string, number> = {};
    const added = taken.map(({ swatch: _, doubt: __, ...spot }) => {
      const key = `${spot.figure} ${spot.name}`;
      counted[key] = (counted[key] ?? 0) + 1;
      const name = counted[key] > 1 ? `${spot.name} ${counted[key]}` : spot.name;
      return { ...spot, id: newId(), name, recipe: null, locked: false, family: null };
    });
    edit((held) => ({
      ...held,
      figures: [
        ...held.figures.map((row) => ({
          ...row,
          face: row.face ?? proposal.figures.find((found) => found.id === row.id)?.face ?? null,
        })),
        ...proposal.figures
          .filter((row) => row.is_new && wanted.has(row.id))
          .map(({ id, name, face }) => ({ id, name, face, strokes: [] })),
      ],
      spots: [...held.spots, ...added],
    }));
    setProposal(null);
    if (added[0]) onTaken(added[0].id);
  };

  /** A find that is no face: it is not looked at again, and its spots go. */
  const notAFace = (id: string) => {
    const face =
      proposal?.figures.find((row) => row.id === id)?.face ??
      study?.figures.find((row) => row.id === id)?.face ??
      null;
    if (!face) return;
    edit((held) => ({
      ...held,
      no_faces: [...held.no_faces, face].slice(-(limits.no_faces ?? 0)),
      figures: held.figures.map((row) => (row.id === id ? { ...row, face: null } : row)),
    }));
    setProposal((held) => {
      if (!held) return held;
      const dropped = new Set(held.dropped);
      held.spots.forEach((spot, i) => {
        if (spot.figure === id) dropped.add(i);
      });
      const figures = held.figures
        .filter((row) => !(row.id === id && row.is_new))
        .map((row) => (row.id === id ? { ...row, face: null } : row));
      return { ...held, figures, dropped };
    });
  };

  const count = proposal ? proposal.spots.length - proposal.dropped.size : 0;
  return {
    suggest,
    busy: ask.isPending,
    proposal,
    deed: proposal && (
      <>
        <Button variant="quiet" onClick={() => setProposal(null)}>
          Leave them
        </Button>
        <Button variant="act" className="btn-deed" onClick={take} disabled={count === 0}>
          Use {count} {count === 1 ? "spot" : "spots"}
        </Button>
      </>
    ),
    tool: painting
      ? {
          down: (at) => setPoints([at]),
          move: (at) => setPoints((held) => [...held, at]),
          up: stroke,
          cancel: () => setPoints([]),
        }
      : undefined,
    above: (size) => (
      <>
        {painting && points.length > 0 && (
          <polyline
            points={[...points, ...points.slice(-1)]
              .map((at) => `${at.x * size.w},${at.y * size.h}`)
              .join(" ")}
            className={`stroke-draft${painting.add ? "" : " is-away"}`}
            strokeWidth={2 * longer(size)}
          />
        )}
        {proposal && <Proposals proposal={proposal} size={size} onToggle={toggle} />}
      </>
    ),
    panel: (
      <PeoplePanel
        figure={figure}
        onFigure={onFigure}
        study={study}
        painting={painting}
        onPaint={(next) => {
          setPainting(next);
          if (next) onPaint();
        }}
        chosen={chosen}
        onSpot={(add) => {
          onPaint();
          if (chosen)
            keep({
              add,
              radius: Math.min(0.2, 2 * chosen.radius),
              points: [[chosen.x, chosen.y]],
            });
        }}
        onClear={() =>
          edit((held) => ({
            ...held,
            figures: held.figures.map((row) => (row.id === figure ? { ...row, strokes: [] } : row)),
          }))
        }
        proposal={proposal}
        busy={ask.isPending}
        problem={full || problemOf(ask.error, "")}
        onSuggest={suggest}
        onToggle={toggle}
        onNotAFace={notAFace}
      />
    ),
  };
}
