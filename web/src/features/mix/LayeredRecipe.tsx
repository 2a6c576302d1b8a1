import type { SeenSpot, Stick } from "../../api/client";
import { useDocument } from "../../document/useEditor";
import { Pair, StickDot } from "../../ui/Swatch";
import { inWords } from "./Layers";

/** What the layers give at one place, read off them. */
export function LayeredRecipe({ spot, sticks }: { spot: SeenSpot; sticks: Stick[] }) {
  const { layers } = useDocument();
  const { outcome } = spot;
  const laid = layers.filter((layer) => layer.levels[spot.id]);
  return (
    <section className="recipe" aria-label={`What the layers give at ${spot.name}`}>
      <h2 className="h4">{spot.name}</h2>
      {outcome?.target && outcome.result && <Pair target={outcome.target} result={outcome.result} tall />}
      <ol className="layered-recipe">
        {laid.map((layer) => {
          const stick = sticks.find((row) => row.code === layer.stick);
          const level = layer.levels[spot.id];
          return (
            <li key={layer.id}>
              <StickDot hex={stick?.swatch.hex ?? "transparent"} /> <b>{layer.stick}</b> {stick?.name},{" "}
              {level && inWords(level, layer.technique, stick?.medium === "marker")}
            </li>
          );
        })}
      </ol>
      {outcome?.trouble && (
        <p className="problem" role="alert">
          {outcome.trouble}
        </p>
      )}
      <p className="hint">Read off the layers of the figure: change them, and this changes with them.</p>
    </section>
  );
}
