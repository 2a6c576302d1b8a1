import { useState } from "react";
import { Button } from "react-bootstrap";
import { Link } from "react-router";
import { pictureUrl } from "../../api/client";
import { usePiece } from "../../api/piece";
import { useMaterials, useTrays } from "../../api/queries";
import { useKeys } from "../../ui/keys";
import { RoleMark } from "../../ui/RoleMark";
import { Stage } from "../../ui/Stage";
import { Pair } from "../../ui/Swatch";
import { useHeight } from "../../ui/useHeight";
import { ValueLadder } from "../../ui/ValueLadder";
import { RecipeEditor } from "./RecipeEditor";
import { SetupBar } from "./SetupBar";

export function MixPage() {
  const { piece, busy, solve } = usePiece();
  const { document, picture } = piece;
  const { spots, figures } = document;
  const trays = useTrays();
  const [selected, setSelected] = useState<string | null>(spots[0]?.id ?? null);
  const materials = useMaterials();
  const [ladder, ladderHeight] = useHeight();
  const current = spots.find((spot) => spot.id === selected) ?? null;
  const sticks = trays.data?.find((tray) => tray.id === document.tray)?.sticks ?? [];
  const word = materials.data?.media.find((row) => row.id === document.setup.medium)?.word ?? "stick";
  const mixed = spots.some((spot) => spot.recipe);
  const hop = (by: number) => {
    const index = spots.findIndex((spot) => spot.id === selected);
    setSelected(spots[Math.min(spots.length - 1, Math.max(0, index + by))]?.id ?? null);
  };
  useKeys([
    { key: "x", does: "Mix all spots anew", run: () => solve([]) },
    { key: "ArrowDown", does: "Next spot", run: () => hop(1) },
    { key: "ArrowUp", does: "Spot before", run: () => hop(-1) },
  ]);

  if (!picture || spots.length === 0) {
    return (
      <main className="page">
        <section className="empty">
          <h2>First look, then mix</h2>
          <p>Mark a few spots on the reference. For each of them Caltin then finds what to lay down.</p>
          <Link className="btn btn-act" to={`/pieces/${piece.id}/look`}>
            Mark spots
          </Link>
        </section>
      </main>
    );
  }
  return (
    <main className="mix">
      <SetupBar />
      <section className="mix-picture" aria-label="Reference">
        <Stage
          url={pictureUrl(picture.id)}
          alt={`Reference of ${piece.title}`}
          width={picture.width}
          height={picture.height}
          spots={spots}
          figures={figures}
          selected={selected}
          onSelect={setSelected}
          byWidth={0.58}
        />
        <SpotRows selected={selected} onSelect={setSelected} />
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
      {current?.recipe ? (
        <RecipeEditor key={current.id} spot={current} number={spots.indexOf(current) + 1} sticks={sticks} />
      ) : (
        <section className="recipe empty-small">
          <h2 className="h5">{mixed ? "This spot has no recipe yet" : "Ready to mix"}</h2>
          <p>
            {document.tray
              ? `Caltin searches everything your ${word}s can do on this paper, in the order your method works.`
              : "Choose the tray you own above, or add one first."}
          </p>
          {document.tray ? (
            <Button variant="act" disabled={busy} onClick={() => solve(mixed && current ? [current.id] : [])}>
              {busy ? "Mixing…" : mixed ? "Mix this spot" : "Mix all spots"}
            </Button>
          ) : (
            <Link className="btn btn-act" to="/tray">
              Go to the tray
            </Link>
          )}
        </section>
      )}
    </main>
  );
}

function SpotRows({ selected, onSelect }: { selected: string | null; onSelect: (id: string) => void }) {
  const { piece } = usePiece();
  return (
    <ol className="spot-list mix-list" aria-label="All spots">
      {piece.document.spots.map((spot, i) => {
        const outcome = spot.recipe?.outcome;
        return (
          <li key={spot.id}>
            <button
              type="button"
              className={spot.id === selected ? "is-selected" : ""}
              onClick={() => onSelect(spot.id)}
            >
              <span className="numbers">{i + 1}</span>
              <RoleMark role={spot.role} />
              {outcome?.target && outcome.result ? (
                <Pair target={outcome.target} result={outcome.result} />
              ) : (
                <span />
              )}
              <span className="spot-name">{spot.name}</span>
              <span className="numbers" title="Distance to what is wanted">
                {outcome?.trouble ? "?" : (outcome?.delta_e?.toFixed(1) ?? "–")}
                {outcome?.cautions?.length ? " !" : ""}
              </span>
            </button>
          </li>
        );
      })}
    </ol>
  );
}
