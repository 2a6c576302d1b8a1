import { useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { type Outcome, type Pass, Refusal, type Spot, type Stick, server } from "../../api/client";
import { usePiece } from "../../api/piece";
import { useMaterials } from "../../api/queries";
import { Core } from "../../ui/Core";
import { Pair } from "../../ui/Swatch";
import { StickChoice } from "./StickChoice";

const capital = (word: string) => word.charAt(0).toUpperCase() + word.slice(1);

type Props = { spot: Spot; number: number; sticks: Stick[] };

/** The recipe of one spot: what is wanted beside what one gets, the core, and every pass to be changed. */
export function RecipeEditor({ spot, number, sticks }: Props) {
  const { piece, busy, editSpot, solve } = usePiece();
  const materials = useMaterials();
  const [tried, setTried] = useState<{ passes: Pass[]; outcome: Outcome } | null>(null);
  const asked = useRef(0);
  const recipe = spot.recipe;
  const medium = materials.data?.media.find((row) => row.id === piece.document.setup.medium);
  if (!recipe) return null;
  const passes = recipe.passes;
  const outcome = tried?.passes === passes ? tried.outcome : recipe.outcome;
  const { target, result, paper, steps = [] } = outcome;

  const change = (next: Pass[]) => {
    editSpot(spot.id, { recipe: { ...recipe, passes: next } });
    const mine = ++asked.current;
    const wanted = spot.reading?.swatch.lab;
    if (!wanted) return;
    const show = (found: Outcome) => mine === asked.current && setTried({ passes: next, outcome: found });
    server
      .predict(piece.id, { target: wanted, role: spot.role, passes: next })
      .then(show, (error: unknown) => {
        // Without a connection the saved piece will bring the colour later.
        if (error instanceof Refusal && error.status > 0) show({ trouble: error.message });
      });
  };
  const put = (index: number, part: Partial<Pass>) =>
    change(passes.map((pass, i) => (i === index ? { ...pass, ...part } : pass)));
  const swap = (index: number) =>
    change(
      passes.map((pass, i) =>
        i === index ? (passes[index + 1] ?? pass) : i === index + 1 ? (passes[index] ?? pass) : pass,
      ),
    );
  const add = () => {
    const stick = passes[passes.length - 1]?.stick ?? sticks[0]?.code;
    if (!stick) return;
    const id = crypto.randomUUID().slice(0, 13);
    change([...passes, { id, stick, pressure: "light", repeats: 1, technique: "lay" }]);
  };

  return (
    <section className="recipe" aria-label={`Recipe of ${spot.name}`}>
      <header className="recipe-head">
        <h2 className="h5">
          <span className="numbers">{number}</span> {spot.name} <small>{spot.role}</small>
        </h2>
        <Button variant="quiet" size="sm" disabled={busy} onClick={() => solve([spot.id])}>
          Mix this anew
        </Button>
      </header>
      {outcome.trouble ? (
        <p className="problem" role="alert">
          {outcome.trouble}
        </p>
      ) : (
        target &&
        result && (
          <>
            <Pair target={target} result={result} tall />
            <p className="verdict" aria-live="polite">
              <span className="numbers">
                off by <b>{outcome.delta_e?.toFixed(1)}</b>, value {(outcome.delta_v ?? 0) >= 0 ? "+" : "−"}
                {Math.abs(outcome.delta_v ?? 0).toFixed(2)}, your hand ±{outcome.tolerance?.toFixed(1)}
              </span>
              <span className="words">
                {target.words} → {result.words}
              </span>
            </p>
          </>
        )
      )}
      <div className="recipe-body">
        {paper && (
          <Core
            paper={paper}
            passes={passes}
            steps={steps}
            soaks={medium?.id === "marker"}
            height={Math.max(190, 96 + 60 * passes.length)}
          />
        )}
        <ol className="passes" aria-label="Passes from the paper up">
          {passes.length === 0 && <li className="hint">Leave the paper bare here: nothing comes nearer.</li>}
          {passes.map((pass, i) => (
            <li key={pass.id} className="pass">
              <div className="pass-line">
                <span className="numbers">{i + 1}</span>
                <StickChoice
                  label={`${capital(medium?.word ?? "stick")} of pass ${i + 1}`}
                  sticks={sticks}
                  chosen={pass.stick}
                  onChoose={(stick) => put(i, { stick })}
                />
                <span className="effect">{steps[i]?.effect}</span>
                <Button
                  variant="quiet"
                  size="sm"
                  disabled={i === passes.length - 1}
                  onClick={() => swap(i)}
                  aria-label={`Lay pass ${i + 1} later`}
                >
                  later
                </Button>
                <Button
                  variant="quiet"
                  size="sm"
                  onClick={() => change(passes.filter((_, j) => j !== i))}
                  aria-label={`Remove pass ${i + 1}`}
                >
                  remove
                </Button>
              </div>
              <div className="pass-line">
                {medium && medium.pressures.length > 1 && (
                  <fieldset className="segments" aria-label={`Pressure of pass ${i + 1}`}>
                    {medium.pressures.map((pressure) => (
                      <Button
                        key={pressure}
                        size="sm"
                        variant={pass.pressure === pressure ? "chosen" : "quiet"}
                        aria-pressed={pass.pressure === pressure}
                        onClick={() => put(i, { pressure })}
                      >
                        {pressure}
                      </Button>
                    ))}
                  </fieldset>
                )}
                <fieldset className="segments numbers" aria-label={`Repeats of pass ${i + 1}`}>
                  {(materials.data?.repeats ?? []).map((repeats) => (
                    <Button
                      key={repeats}
                      size="sm"
                      variant={pass.repeats === repeats ? "chosen" : "quiet"}
                      aria-pressed={pass.repeats === repeats}
                      onClick={() => put(i, { repeats })}
                    >
                      {repeats}×
                    </Button>
                  ))}
                </fieldset>
                <fieldset className="segments" aria-label={`Technique of pass ${i + 1}`}>
                  {medium?.techniques.map((technique) => (
                    <Button
                      key={technique}
                      size="sm"
                      variant={pass.technique === technique ? "chosen" : "quiet"}
                      aria-pressed={pass.technique === technique}
                      onClick={() => put(i, { technique })}
                    >
                      {technique}
                    </Button>
                  ))}
                </fieldset>
              </div>
            </li>
          ))}
          {passes.length < 8 && (
            <li>
              <Button variant="quiet" size="sm" onClick={add} disabled={sticks.length === 0}>
                Add a pass on top
              </Button>
            </li>
          )}
        </ol>
      </div>
      {outcome.cautions?.map((caution) => (
        <p key={caution.code + caution.text} className="caution">
          {caution.text}
        </p>
      ))}
    </section>
  );
}
