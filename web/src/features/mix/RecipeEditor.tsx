import { Button } from "react-bootstrap";
import {
  type Outcome,
  type Pass,
  Refusal,
  type Schemas,
  type SeenSpot,
  type Stick,
  server,
  toothUrl,
} from "../../api/client";
import { useWrite } from "../../api/mutations";
import { useLimits, useMaterials } from "../../api/queries";
import { useEditing, useEditor, usePiece } from "../../document/useEditor";
import { Grain } from "../../ui/Grain";
import { LayerColumn } from "../../ui/LayerColumn";
import { Segments } from "../../ui/Segments";
import { Pair } from "../../ui/Swatch";
import { Answers } from "./Answers";
import { Context } from "./Context";
import { StickChoice } from "./StickChoice";

/** Whether a stick is of a medium, or of one that this medium can be laid over. */
const fits = (stick: Stick, medium: Schemas["Medium"] | undefined) =>
  !!medium && (stick.medium === medium.id || medium.over.includes(stick.medium));

/** What was foreseen of a recipe that was just changed, or what is wrong with it. */
function triedOutcome(found: Outcome | undefined, error: Error | null): Outcome | undefined {
  // Without a connection the saved piece will bring the colour later.
  return error instanceof Refusal && error.status > 0 ? TROUBLE(error.message) : found;
}

/** What stands where nothing could be worked out. */
const TROUBLE = (trouble: string): Outcome => ({
  trouble,
  why: "",
  target: null,
  paper: null,
  result: null,
  steps: [],
  delta_e: null,
  delta_v: null,
  tolerance: null,
  cautions: [],
  grain: [],
});

const capital = (word: string) => word.charAt(0).toUpperCase() + word.slice(1);

type Props = {
  spot: SeenSpot;
  number: number;
  /** Everything in the tray. */
  sticks: Stick[];
  /** Whether a neighbour is being picked on the reference. */
  picking: boolean;
  onPick: (picking: boolean) => void;
};

/** The recipe of one spot: what is wanted beside what one gets, the core, and every pass to be changed. */
export function RecipeEditor({ spot, number, sticks, picking, onPick }: Props) {
  const piece = usePiece();
  const { editSpot, solve } = useEditor();
  const busy = useEditing((state) => state.busy);
  const materials = useMaterials();
  const limits = useLimits();
  const tried = useWrite((body: Schemas["TrialRequest"]) => server.predict(piece.id, body));
  const recipe = spot.recipe;
  const { setup } = piece.document;
  const media = materials.data?.media ?? [];
  const medium = media.find((row) => row.id === setup.medium);
  if (!recipe) return null;
  const passes = recipe.passes;
  const among = sticks.filter(
    (stick) =>
      fits(stick, medium) || media.find((row) => row.id === stick.medium)?.over.includes(setup.medium),
  );
  const own = (code: string) => media.find((row) => row.id === sticks.find((s) => s.code === code)?.medium);
  /** The medium a pass works in: its stick's, or for a tool that of what lies there. */
  const worksIn = (index: number) => {
    for (let i = index; i >= 0; i -= 1) {
      const found = own(passes[i]?.stick ?? "");
      if (found) return found;
    }
    return medium;
  };
  const toolOf = (index: number) => worksIn(index)?.tools.find((tool) => tool.code === passes[index]?.stick);
  const outcome =
    (tried.variables?.passes === passes && triedOutcome(tried.data, tried.error)) || spot.outcome;
  const { target, result, paper, steps = [] } = outcome ?? {};

  const change = (next: Pass[]) => {
    editSpot(spot.id, { recipe: { ...recipe, passes: next } });
    const wanted = spot.outcome?.target?.lab ?? spot.reading?.swatch.lab;
    if (wanted) tried.mutate({ target: wanted, role: spot.role, passes: next });
  };
  const put = (index: number, part: Partial<Pass>) =>
    change(passes.map((pass, i) => (i === index ? { ...pass, ...part } : pass)));
  const take = (index: number, code: string) => {
    const next = own(code) ?? worksIn(index);
    const techniques = next?.tools.find((tool) => tool.code === code)?.techniques ?? next?.techniques ?? [];
    const { pressure = "light", technique = "lay" } = passes[index] ?? {};
    put(index, {
      stick: code,
      technique: techniques.includes(technique) ? technique : (techniques[0] ?? "lay"),
      pressure: next?.pressures.includes(pressure) ? pressure : (next?.pressures[0] ?? "light"),
    });
  };
  const swap = (index: number) =>
    change(
      passes.map((pass, i) =>
        i === index ? (passes[index + 1] ?? pass) : i === index + 1 ? (passes[index] ?? pass) : pass,
      ),
    );
  const add = () => {
    const last = passes.findLast((pass) => own(pass.stick))?.stick;
    const stick = last ?? sticks.find((candidate) => candidate.medium === setup.medium)?.code;
    if (!stick) return;
    const id = crypto.randomUUID().slice(0, 13);
    change([...passes, { id, stick, pressure: "light", repeats: 1, technique: "lay", locked: false }]);
  };

  return (
    <section className="recipe" aria-label={`Recipe of ${spot.name}`}>
      <header className="recipe-head">
        <h2 className="h5">
          <span className="numbers">{number}</span> {spot.name} <small>{spot.role}</small>
        </h2>
        <span className="tools">
          <Button
            variant={spot.locked ? "chosen" : "quiet"}
            size="sm"
            aria-pressed={spot.locked}
            onClick={() => editSpot(spot.id, { locked: !spot.locked })}
          >
            {spot.locked ? "Kept as it is" : "Keep as it is"}
          </Button>
          <Button variant="quiet" size="sm" disabled={busy || spot.locked} onClick={() => solve([spot.id])}>
            Mix this anew
          </Button>
        </span>
      </header>
      {outcome?.trouble ? (
        <p className="problem" role="alert">
          {outcome.trouble}
        </p>
      ) : (
        target &&
        result && (
          <>
            <div className="wanted-got">
              <Pair target={target} result={result} tall />
              {outcome?.grain.length ? (
                <Grain
                  url={toothUrl(setup.paper)}
                  colours={outcome.grain}
                  label="As it will lie on this paper"
                />
              ) : null}
            </div>
            <p className="verdict" aria-live="polite">
              <span className="numbers">
                off by <b>{outcome?.delta_e?.toFixed(1)}</b>, value {(outcome?.delta_v ?? 0) >= 0 ? "+" : "−"}
                {Math.abs(outcome?.delta_v ?? 0).toFixed(2)}, your hand ±{outcome?.tolerance?.toFixed(1)}
              </span>
              <span className="words">
                {target.words} → {result.words}
              </span>
            </p>
            {outcome?.why && <p className="why">{outcome.why}</p>}
          </>
        )
      )}
      <div className="recipe-body">
        {paper && (
          <LayerColumn
            paper={paper}
            bands={passes.map((pass, i) => ({
              ...pass,
              lies: toolOf(i) ? "" : (worksIn(i)?.lies ?? "film"),
            }))}
            steps={steps}
            height={Math.max(190, 96 + 60 * passes.length)}
          />
        )}
        <ol className="passes" aria-label="Passes from the paper up">
          {passes.length === 0 && <li className="hint">Leave the paper bare here: nothing comes nearer.</li>}
          {passes.map((pass, i) => {
            const inHand = worksIn(i);
            const techniques = toolOf(i)?.techniques ?? inHand?.techniques ?? [];
            return (
              <li key={pass.id} className="pass">
                <div className="pass-line">
                  <span className="numbers">{i + 1}</span>
                  <StickChoice
                    label={`${capital(own(pass.stick)?.word ?? medium?.word ?? "stick")} of pass ${i + 1}`}
                    sticks={among}
                    tools={inHand?.tools ?? []}
                    first={setup.medium}
                    chosen={pass.stick}
                    onChoose={(code) => take(i, code)}
                  />
                  <Button
                    className="ms-auto"
                    variant={pass.locked ? "chosen" : "quiet"}
                    size="sm"
                    aria-pressed={pass.locked}
                    onClick={() => put(i, { locked: !pass.locked })}
                    aria-label={`Keep pass ${i + 1} when mixing anew`}
                  >
                    keep
                  </Button>
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
                    title="remove"
                  >
                    ×
                  </Button>
                </div>
                {steps[i]?.effect && <span className="effect">{steps[i].effect}</span>}
                <div className="pass-line">
                  {inHand && inHand.pressures.length > 1 && (
                    <Segments
                      label={`Pressure of pass ${i + 1}`}
                      choices={inHand.pressures}
                      chosen={pass.pressure}
                      onChoose={(pressure) => put(i, { pressure })}
                    />
                  )}
                  <Segments
                    label={`Repeats of pass ${i + 1}`}
                    choices={materials.data?.repeats ?? []}
                    chosen={pass.repeats}
                    say={(repeats) => `${repeats}×`}
                    onChoose={(repeats) => put(i, { repeats })}
                  />
                  {techniques.length > 1 && (
                    <Segments
                      label={`Technique of pass ${i + 1}`}
                      choices={techniques}
                      chosen={pass.technique}
                      onChoose={(technique) => put(i, { technique })}
                    />
                  )}
                </div>
              </li>
            );
          })}
          {passes.length < (limits.passes ?? 0) && (
            <li>
              <Button variant="quiet" size="sm" onClick={add} disabled={sticks.length === 0}>
                Add a pass on top
              </Button>
            </li>
          )}
        </ol>
      </div>
      <Answers spot={spot.id} onTake={(answer) => change(answer.passes)} />
      {outcome?.cautions.map((caution) => (
        <p key={caution.code + caution.text} className="caution">
          {caution.text}
        </p>
      ))}
      <Context spot={spot.id} picking={picking} onPick={onPick} />
    </section>
  );
}
