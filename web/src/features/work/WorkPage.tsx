import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { hasFailed } from "../../api/client";
import { useSheet, useSticks } from "../../api/queries";
import { useEditor, usePiece, useSpots } from "../../document/useEditor";
import { useMapped } from "../../document/useMapped";
import { EmptyPage } from "../../ui/EmptyPage";
import { Failed } from "../../ui/Failed";
import { useKeys } from "../../ui/keys";
import { TakeAlong } from "../../ui/LazyTakeAlong";
import { useLater } from "../../ui/useLater";
import { AroundList } from "./AroundList";
import { Easel } from "./Easel";
import { Notes } from "./Notes";
import { OldSheet } from "./OldSheet";
import { useAwake } from "./useAwake";
import { useClock } from "./useClock";

/** How long the steps wait for maps that are there already. */
const MAPS_WAIT_MS = 1500;

export type LaidStep = Schemas["LaidStep"];
type Done = Schemas["Work"]["done"];

/** Whether all of a step is done or left out; a tick of its layer means all of it. */
export const stateOf = (step: LaidStep, done: Done): "open" | "done" | "skipped" => {
  const ticks = step.parts.flatMap((part) => part.ticks.map((tick) => done[tick] ?? done[step.layer]));
  if (ticks.some((tick) => !tick)) return "open";
  return ticks.every((tick) => tick === "skipped") ? "skipped" : "done";
};

/** The work sheet: one layer fills the screen. */
export function WorkPage() {
  const piece = usePiece();
  const spots = useSpots();
  const [order, setOrder] = useState("by layer");
  const maps = useMapped(piece.keys.maps);
  const late = useLater(MAPS_WAIT_MS);
  // A hand goes by the maps: what it lays where is read off them, or as it was planned as long as they are being made.
  const sheet = useSheet(piece.id, piece.keys.sheet, order, !maps.isLoading || late);
  const { waiting } = useSticks(piece.document.tray);
  if (waiting || (sheet.isPending && piece.document.tray))
    return (
      <main key="wait" className="wait">
        Sorting the steps…
      </main>
    );
  if (sheet.data && sheet.data.steps.length > 0)
    return <Steps sheet={sheet.data} maps={maps.data} order={order} onOrder={setOrder} />;
  if (sheet.data && spots.some((spot) => spot.recipe)) return <OldSheet sheet={sheet.data} />;
  if (hasFailed(sheet.error)) return <Failed error={sheet.error} onAgain={() => void sheet.refetch()} />;
  return (
    <EmptyPage
      title="Nothing to lay down yet"
      text={
        sheet.error
          ? sheet.error.message
          : "Once the face is planned in layers, each of them waits here in working order."
      }
      to={`/pieces/${piece.id}/mix`}
      deed="Go and plan"
    />
  );
}

type StepsProps = {
  sheet: Schemas["Sheet"];
  maps: Schemas["Maps"] | undefined;
  order: string;
  onOrder: (order: string) => void;
};

function Steps({ sheet, maps, order, onOrder }: StepsProps) {
  useAwake();
  const piece = usePiece();
  const { note } = useEditor();
  const { document } = piece;
  const { done } = piece.work;
  const { sticks } = useSticks(document.tray);
  const clock = useClock();
  const [looked, setLooked] = useState<number | null>(null);
  const [open, setOpen] = useState<"notes" | "steps" | "around" | null>(null);
  const [large, setLarge] = useState(false);
  const { steps } = sheet;
  const first = steps.findIndex((step) => stateOf(step, done) === "open");
  // What was skipped is returned to at the end.
  const skipped = steps.findIndex((step) => stateOf(step, done) === "skipped");
  const at = looked ?? (first >= 0 ? first : -1);
  const step = steps[Math.min(at, steps.length - 1)];
  const next = steps.find((row, i) => i > at && stateOf(row, done) === "open");
  const mark = (row: LaidStep, ticks: string[], as: "done" | "skipped" | "") => {
    const changes: Record<string, { state: typeof as }> = Object.fromEntries(
      ticks.map((tick) => [tick, { state: as }]),
    );
    // The layer itself counts as done once nothing of it is left in any order of work.
    const its = steps
      .filter((held) => held.layer === row.layer)
      .flatMap((held) => held.parts.flatMap((p) => p.ticks));
    const after = its.map((tick) => (tick in changes ? as : (done[tick] ?? done[row.layer] ?? "")));
    if (done[row.layer] && as === "") for (const tick of its) changes[tick] ??= { state: "done" };
    changes[row.layer] = { state: after.every(Boolean) ? (after.includes("done") ? "done" : "skipped") : "" };
    note(changes);
    if (as && after.every(Boolean)) setLooked(null);
  };
  const all = (row: LaidStep) => row.parts.flatMap((part) => part.ticks);
  const left = (row: LaidStep) => all(row).filter((tick) => !(done[tick] ?? done[row.layer]));
  const part = step?.parts.find((row) => row.ticks.some((tick) => !(done[tick] ?? done[step.layer])));
  useKeys([
    { key: "t", does: "Tick the next part", run: () => step && part && mark(step, part.ticks, "done") },
    { key: "Enter", does: "All of this layer is laid", run: () => step && mark(step, left(step), "done") },
    { key: "k", does: "Skip this layer", run: () => step && mark(step, left(step), "skipped") },
    { key: "n", does: "Write a note", run: () => setOpen("notes") },
    { key: "z", does: "Larger type, or smaller", run: () => setLarge(!large) },
    {
      key: "ArrowRight",
      does: "Look at the next layer",
      run: () => setLooked(Math.min(steps.length - 1, at + 1)),
    },
    { key: "ArrowLeft", does: "Look at the layer before", run: () => setLooked(Math.max(0, at - 1)) },
  ]);
  const figure =
    document.figures.find((row) => row.name === (part ?? step?.parts[0])?.figure) ?? document.figures[0];
  const doneLayers = steps.filter((row) => stateOf(row, done) === "done").length;
  return (
    <main className={large ? "work is-large" : "work"}>
      <div className="work-tools">
        <Form.Select
          size="sm"
          aria-label="Order of work"
          value={order}
          onChange={(event) => {
            setLooked(null);
            onOrder(event.target.value);
          }}
        >
          {sheet.orders.map((row) => (
            <option key={row}>{row}</option>
          ))}
        </Form.Select>
        <span className="hint numbers">
          {doneLayers} of {steps.length} laid
        </span>
        <span className="numbers">
          {clock.words}, {clock.running ? "running" : "paused"}
        </span>
        <Button variant="quiet" size="sm" onClick={clock.toggle}>
          {clock.running ? "pause" : "go on"}
        </Button>
        <Button variant="quiet" size="sm" aria-pressed={large} onClick={() => setLarge(!large)}>
          {large ? "smaller" : "larger"}
        </Button>
        <TakeAlong
          piece={piece.id}
          mapped={piece.picture !== null && document.layers.length > 0}
          layer={step && !step.comparison ? { id: step.layer, number: step.number } : undefined}
        />
        <Link to={`/pieces/${piece.id}/print`} className="btn btn-quiet btn-sm">
          print
        </Link>
      </div>
      {step && figure ? (
        <Easel
          key={`${step.layer} ${step.parts[0]?.ticks[0]}`}
          step={step}
          number={at + 1}
          count={steps.length}
          figure={figure}
          sticks={sticks}
          maps={maps}
          isNow={at === first}
          onTick={(ticks, as) => mark(step, ticks, as)}
        />
      ) : (
        <section className="easel-end">
          <h1>All laid down</h1>
          <p>
            {skipped >= 0
              ? "Some layers were skipped: go back to them, or leave them out."
              : "Step back. Then photograph it: what is still off is found, darks first."}
          </p>
          {skipped < 0 && (
            <Link className="btn btn-act btn-deed" to={`/pieces/${piece.id}/compare`}>
              Compare the drawing
            </Link>
          )}
          {skipped >= 0 && (
            <Button variant="act" onClick={() => setLooked(skipped)}>
              Return to what was skipped
            </Button>
          )}
        </section>
      )}
      <footer className="work-foot">
        <button
          type="button"
          className="next-stick"
          disabled={!next}
          onClick={() => next && setLooked(steps.indexOf(next))}
        >
          <span className="hint">
            {step ? `Layer ${at + 1} of ${steps.length}.` : ""} {next ? "Then" : "Nothing after it."}
          </span>
          {next && (
            <span>
              <b>{next.stick}</b> {sticks.find((row) => row.code === next.stick)?.name}
            </span>
          )}
        </button>
        <Button variant="quiet" onClick={() => setOpen("steps")}>
          all layers
        </Button>
        {sheet.around.length > 0 && (
          <Button variant="quiet" onClick={() => setOpen("around")}>
            hair, cloth, ground
          </Button>
        )}
        {step && (
          <>
            {!step.comparison && (
              <Link className="btn btn-quiet" to={`/pieces/${piece.id}/mix?swap=${step.layer}`}>
                swap
              </Link>
            )}
            <Button
              variant="quiet"
              onClick={() => mark(step, left(step), "skipped")}
              disabled={left(step).length === 0}
            >
              skip
            </Button>
            <Button variant="quiet" onClick={() => setOpen("notes")}>
              note
            </Button>
            {left(step).length > 0 ? (
              <Button variant="act" className="btn-laid" onClick={() => mark(step, left(step), "done")}>
                Laid
              </Button>
            ) : (
              <Button variant="act" className="btn-laid" onClick={() => mark(step, all(step), "")}>
                Not yet
              </Button>
            )}
          </>
        )}
      </footer>
      {open === "notes" && step && (
        <Notes layer={step.layer} stick={step.stick} onClose={() => setOpen(null)} />
      )}
      {open === "around" && <AroundList steps={sheet.around} sticks={sticks} onClose={() => setOpen(null)} />}
      {open === "steps" && (
        <section
          className="over-screen"
          aria-label="All layers"
          onKeyDown={(event) => event.key === "Escape" && setOpen(null)}
        >
          <header>
            <h3 className="h4">All layers, {order}</h3>
            <Button variant="quiet" size="sm" autoFocus onClick={() => setOpen(null)}>
              back to the easel
            </Button>
          </header>
          <ol className="all-steps">
            {steps.map((row, i) => {
              const state = stateOf(row, done);
              return (
                <li key={`${row.layer} ${row.parts[0]?.ticks[0]}`}>
                  <button
                    type="button"
                    aria-current={i === at ? "step" : undefined}
                    onClick={() => {
                      setLooked(i);
                      setOpen(null);
                    }}
                  >
                    <span className="numbers">
                      {state === "done" ? "✓" : state === "skipped" ? "–" : i + 1}
                    </span>
                    <span>
                      <b>{row.stick}</b> {sticks.find((stick) => stick.code === row.stick)?.name}
                    </span>
                    <span className="hint">{row.parts.map((p) => p.feature).join(", ")}</span>
                  </button>
                </li>
              );
            })}
          </ol>
        </section>
      )}
    </main>
  );
}
