import { Button } from "react-bootstrap";
import type { FigurePlan, Stick } from "../../api/client";
import { rampsUrl, SHEET_KINDS } from "../../api/files";
import { toothUrl } from "../../api/pictures";
import { useFigures } from "../../api/queries";
import { useEditor, usePiece } from "../../document/useEditor";
import { Grain } from "../../ui/Grain";
import { StickDot } from "../../ui/Swatch";

type Props = { sticks: Stick[]; onSelect: (spot: string) => void };

/** Base, light, shadow and undertones of each figure, and its ramp from dark to light. */
export function Figures({ sticks, onSelect }: Props) {
  const piece = usePiece();
  const { document } = piece;
  const found = useFigures(piece.id, piece.keys.figures);
  if (found.error) {
    return (
      <p className="problem" role="alert">
        {found.error.message}
      </p>
    );
  }
  return (
    <div className="figures-plan">
      {found.data?.figures.map((plan) => {
        const figure = document.figures.find((row) => row.id === plan.id);
        return (
          <section key={plan.id} aria-label={`Skin of ${figure?.name}`}>
            <h2 className="h5">{figure?.name}</h2>
            {plan.base ? (
              <>
                <RampStrip plan={plan} paper={document.setup.paper} />
                <Plan plan={plan} sticks={sticks} onSelect={onSelect} />
              </>
            ) : (
              <p className="hint">Nothing is mixed here yet.</p>
            )}
          </section>
        );
      })}
      {found.data?.figures.some((plan) => plan.base) && (
        <p className="hint">
          Take the ramps along as{" "}
          {SHEET_KINDS.map((kind, i) => (
            <span key={kind}>
              {i > 0 && ", "}
              <a href={rampsUrl(piece.id, kind)} download>
                {kind.toUpperCase()}
              </a>
            </span>
          ))}
        </p>
      )}
    </div>
  );
}

function RampStrip({ plan, paper }: { plan: FigurePlan; paper: string }) {
  const { edit } = useEditor();
  const { rungs, gaps, calmings } = plan.ramp;
  const keep = (code: string) =>
    edit((document) => ({
      ...document,
      setup: { ...document.setup, must_use: [...new Set([...document.setup.must_use, code])] },
    }));
  return (
    <>
      <ol className="ramp" aria-label="Ramp from dark to light">
        {rungs.map((rung, i) => (
          <li key={rung.stick} className={gaps[i]?.words ? "is-gap" : ""}>
            <Grain
              url={toothUrl(paper)}
              colours={rung.grain}
              label={`${rung.name}, value ${rung.swatch.value.toFixed(1)}`}
            />
            <b className="numbers">{rung.swatch.value.toFixed(1)}</b>
            <span className="numbers" title={rung.name}>
              {rung.stick}
            </span>
          </li>
        ))}
      </ol>
      {gaps
        .filter((gap) => gap.words)
        .map((gap) => {
          const only = gap.bridge?.passes.length === 1 ? gap.bridge.passes[0] : undefined;
          return (
            <p key={gap.words} className="gap-words">
              {gap.bridge && <StickDot hex={gap.bridge.swatch.hex} />} {gap.words}{" "}
              {only && (
                <Button variant="quiet" size="sm" onClick={() => keep(only.stick)}>
                  keep it in the palette
                </Button>
              )}
            </p>
          );
        })}
      {calmings.map((row) => (
        <p key={row.stick} className="gap-words">
          {row.words}
        </p>
      ))}
    </>
  );
}

function Plan({ plan, sticks, onSelect }: { plan: FigurePlan } & Props) {
  const piece = usePiece();
  const spots = piece.document.spots;
  const name = (code: string) => sticks.find((stick) => stick.code === code)?.name ?? code;
  const spot = (id: string) => {
    const index = spots.findIndex((row) => row.id === id);
    return (
      <button type="button" className="link-like" onClick={() => onSelect(id)}>
        {index + 1} {spots[index]?.name}
      </button>
    );
  };
  return (
    <dl className="plan">
      <dt>base</dt>
      <dd>{spot(plan.base)}</dd>
      {plan.departures.map((row) => (
        <div key={row.part} className="plan-row">
          <dt>{row.part}</dt>
          <dd>
            {spot(row.spot)}: {row.words}
            {row.adds.length > 0 && `; adds ${row.adds.map(name).join(", ")}`}
            {row.drops.length > 0 && `; leaves out ${row.drops.map(name).join(", ")}`}
          </dd>
        </div>
      ))}
      {plan.undertones.length > 0 && (
        <>
          <dt>undertones</dt>
          <dd>
            {plan.undertones.map((row, i) => (
              <span key={`${row.spot} ${row.stick}`}>
                {i > 0 && "; "}
                {name(row.stick)} ({row.hue}) under {spot(row.spot)}
              </span>
            ))}
          </dd>
        </>
      )}
    </dl>
  );
}
