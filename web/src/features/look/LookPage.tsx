import { useCallback, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { pictureUrl, type Spot } from "../../api/client";
import { usePiece } from "../../api/piece";
import { useMaterials } from "../../api/queries";
import { useKeys } from "../../ui/keys";
import { Stage } from "../../ui/Stage";
import { useHeight } from "../../ui/useHeight";
import { ValueLadder } from "../../ui/ValueLadder";
import { PutPicture } from "./PutPicture";
import { SpotList, SpotPanel } from "./SpotPanel";

/** From here on a picture leaves more room below it than beside it. */
const WIDE = 1.25;

type Seeing = "as_it_is" | "values";

export function LookPage() {
  const { piece, edit, editSpot } = usePiece();
  const { document, picture } = piece;
  const { spots, figures } = document;
  const [selected, setSelected] = useState<string | null>(spots[0]?.id ?? null);
  const [seeing, setSeeing] = useState<Seeing>("as_it_is");
  const [steps, setSteps] = useState(5);
  const [figure, setFigure] = useState(figures[0]?.id ?? "");
  const materials = useMaterials();
  const [ladder, ladderHeight] = useHeight();
  const current = spots.find((spot) => spot.id === selected) ?? null;

  const add = useCallback(
    (x: number, y: number) => {
      const id = crypto.randomUUID().slice(0, 13);
      const mine = figures.find((candidate) => candidate.id === figure) ?? figures[0];
      if (!mine) return;
      const spot: Spot = {
        id,
        figure: mine.id,
        name: `Spot ${spots.length + 1}`,
        place: "other",
        role: "middle",
        x,
        y,
        radius: spots[spots.length - 1]?.radius ?? 0.01,
        recipe: null,
        reading: null,
        temperature: null,
      };
      edit((held) => ({ ...held, spots: [...held.spots, spot] }));
      setSelected(id);
    },
    [edit, figure, figures, spots],
  );
  const remove = useCallback(
    (id: string) => {
      const index = spots.findIndex((spot) => spot.id === id);
      edit((held) => ({ ...held, spots: held.spots.filter((spot) => spot.id !== id) }));
      setSelected(spots[index + 1]?.id ?? spots[index - 1]?.id ?? null);
    },
    [edit, spots],
  );
  useKeys([
    { key: "1", does: "See the picture as it is", run: () => setSeeing("as_it_is") },
    { key: "2", does: "See it in values", run: () => setSeeing("values") },
    { key: ",", does: "Fewer values", run: () => setSteps((n) => Math.max(2, n - 1)) },
    { key: ".", does: "More values", run: () => setSteps((n) => Math.min(9, n + 1)) },
    { key: "s", does: "Put a spot in the middle of the picture", run: () => picture && add(0.5, 0.5) },
  ]);

  if (!picture) return <PutPicture />;
  const wide = picture.width > picture.height * WIDE;
  return (
    <main className="look">
      <section className="look-picture" aria-label="Reference">
        <div className="tools">
          <fieldset className="segments" aria-label="Way of seeing">
            <Button
              variant={seeing === "as_it_is" ? "chosen" : "quiet"}
              onClick={() => setSeeing("as_it_is")}
              title="1"
            >
              As it is
            </Button>
            <Button
              variant={seeing === "values" ? "chosen" : "quiet"}
              onClick={() => setSeeing("values")}
              title="2"
            >
              Values
            </Button>
          </fieldset>
          {seeing === "values" && (
            <span className="slider">
              <span className="numbers">{steps} values</span>
              <Form.Range
                aria-label="Number of values"
                min={2}
                max={9}
                value={steps}
                onChange={(event) => setSteps(Number(event.target.value))}
              />
            </span>
          )}
          <span className="hint">Click to drop a spot, drag to move it.</span>
          <span className="bar-gap" />
          <PutPicture again />
        </div>
        <Stage
          url={pictureUrl(picture.id, seeing, steps)}
          alt={`Reference of ${piece.title}, ${seeing === "values" ? `in ${steps} values` : "as it is"}`}
          width={picture.width}
          height={picture.height}
          spots={spots}
          selected={selected}
          onSelect={setSelected}
          onAdd={add}
          onChange={editSpot}
          onRemove={remove}
          byWidth={wide ? 0.8 : undefined}
        />
        {wide && <SpotList selected={selected} onSelect={setSelected} />}
      </section>
      <section className="look-ladder" ref={ladder} aria-label="Values">
        <ValueLadder
          spots={spots}
          figures={figures}
          reach={piece.reach}
          selected={selected}
          onSelect={setSelected}
          height={ladderHeight}
          greys={materials.data?.value_greys ?? []}
        />
      </section>
      <SpotPanel
        spot={current}
        number={current ? spots.indexOf(current) + 1 : 0}
        figure={figure}
        onFigure={setFigure}
        onSelect={setSelected}
        onRemove={remove}
        withList={!wide}
      />
    </main>
  );
}
