import { useState } from "react";
import { Button } from "react-bootstrap";
import { practiceFileUrl } from "../../api/files";
import { problemOf, useWrite } from "../../api/mutations";
import {
  type Curve,
  type PracticeKind,
  type PracticeSource,
  practice,
  type Standing,
  useStanding,
} from "../../api/practice";
import { Confirm } from "../../ui/Confirm";
import { Failed } from "../../ui/Failed";
import { RampByHand } from "./RampByHand";
import { RoundOf } from "./RoundOf";
import { WeeksChart } from "./WeeksChart";
import { KIND, ON } from "./words";
import "./practice.css";

const KINDS: PracticeKind[] = ["value", "hue", "chroma", "stick", "layer"];
const WEEK_MS = 7 * 24 * 3600 * 1000;

/** What trains the eye between two pieces: a short round, and what the answers of weeks show. */
export function PracticePage() {
  const standing = useStanding();
  const [open, setOpen] = useState<string | null>(null);
  const [ramp, setRamp] = useState(false);
  const [kinds, setKinds] = useState<PracticeKind[]>([]);
  const [sources, setSources] = useState<PracticeSource[]>([]);
  const [leaving, setLeaving] = useState(false);
  const begin = useWrite(practice.begin, [], (made) => setOpen(made.id));
  const forget = useWrite(practice.forget, ["practice"]);
  if (standing.error) return <Failed error={standing.error} onAgain={() => void standing.refetch()} />;
  if (!standing.data)
    return (
      <main key="wait" className="wait">
        Looking at your answers …
      </main>
    );
  if (open)
    return (
      <RoundOf
        key={open}
        id={open}
        onDone={() => setOpen(null)}
        onNext={() => begin.mutate({ kinds, sources })}
      />
    );
  if (ramp) return <RampByHand onDone={() => setRamp(false)} />;
  const held = standing.data;
  const possible = KINDS.filter(
    (kind) => (kind !== "stick" || held.sticks) && (kind !== "layer" || held.layers),
  );
  const weak = held.due.filter((row) => !row.never && row.days <= 0).slice(0, 3);
  const turn = <T,>(all: T[], one: T) =>
    all.includes(one) ? all.filter((row) => row !== one) : [...all, one];
  return (
    <main className="practice">
      <section className="practice-begin" aria-label="Practise">
        <h1>{held.count ? "Two minutes for the eye" : "Train the eye between two pieces"}</h1>
        {weak.length > 0 ? (
          <p>Next comes what is weak: {weak.map((row) => `${KIND[row.kind]}, ${row.group}`).join("; ")}.</p>
        ) : (
          <p>
            Eight questions, your guess, and what is true. What went wrong comes again soon, what went right
            later.
          </p>
        )}
        <fieldset className="word-choices" aria-label="What to guess">
          {possible.map((kind) => (
            <button
              key={kind}
              type="button"
              aria-pressed={kinds.includes(kind)}
              onClick={() => setKinds(turn(kinds, kind))}
            >
              {KIND[kind]}
            </button>
          ))}
        </fieldset>
        <fieldset className="word-choices" aria-label="What to look at">
          {held.sources.map((source) => (
            <button
              key={source}
              type="button"
              aria-pressed={sources.includes(source)}
              onClick={() => setSources(turn(sources, source))}
            >
              {ON[source]}
            </button>
          ))}
        </fieldset>
        <p className="hint">Nothing chosen: everything, what is weak first.</p>
        <Button
          variant="act"
          className="btn-deed"
          disabled={begin.isPending}
          onClick={() => begin.mutate({ kinds, sources })}
        >
          {begin.isPending ? "Laying out eight questions …" : "Begin a round"}
        </Button>{" "}
        {held.open && (
          <Button variant="quiet" onClick={() => setOpen(held.open)}>
            go on with the last one
          </Button>
        )}
        <Button variant="quiet" onClick={() => setRamp(true)}>
          five steps by hand
        </Button>
        {begin.error && (
          <p className="problem" role="alert">
            {problemOf(begin.error, "")}
          </p>
        )}
      </section>
      <section className="practice-shown" aria-label="What your answers show">
        <Shown held={held} />
        {held.count > 0 && (
          <Button variant="quiet" size="sm" onClick={() => setLeaving(true)}>
            remove all answers
          </Button>
        )}
        {forget.error && (
          <p className="problem" role="alert">
            {problemOf(forget.error)}
          </p>
        )}
      </section>
      <Confirm
        show={leaving}
        title="Remove all answers?"
        text={`${held.count} answers and their curves go. Pieces, trays and notes stay.`}
        action="Remove them"
        onConfirm={() => {
          setLeaving(false);
          forget.mutate(undefined);
        }}
        onCancel={() => setLeaving(false)}
      />
    </main>
  );
}

function Shown({ held }: { held: Standing }) {
  const curves = held.curves;
  const starts = curves.flatMap((curve) => curve.weeks.map((week) => new Date(week.start).getTime()));
  const from = Math.min(...starts);
  const weeks = 1 + Math.round((Math.max(...starts) - from) / WEEK_MS);
  const kinds = [...new Set(curves.map((curve) => curve.kind))];
  if (!curves.length)
    return (
      <>
        <h2>What your answers show</h2>
        <p className="hint">
          Nothing yet. After a round or two: how far off you are in darks, middle tones, lights, eye whites
          and shadow hues, and which way you lean.
        </p>
      </>
    );
  return (
    <>
      <h2>{held.prejudices.length ? "You lean" : "You lean nowhere for sure"}</h2>
      {held.prejudices.length > 0 && (
        <ul className="practice-leans">
          {held.prejudices.map((row) => (
            <li key={row.said}>{row.said}</li>
          ))}
        </ul>
      )}
      {kinds.map((kind) => (
        <OfKind
          key={kind}
          kind={kind}
          curves={curves.filter((row) => row.kind === kind)}
          from={from}
          weeks={weeks}
        />
      ))}
      <p className="hint">
        Each dot is a week: how far off you were in the mean. The bar through it holds that mean in 80 of 100
        cases; a small dot has too few answers for one. Below the edge of the tinted field an answer counts as
        right.{" "}
        <a href={practiceFileUrl} download>
          Take your answers along
        </a>
      </p>
    </>
  );
}

function OfKind({
  kind,
  curves,
  from,
  weeks,
}: {
  kind: PracticeKind;
  curves: Curve[];
  from: number;
  weeks: number;
}) {
  const most = Math.max(
    ...curves.flatMap((curve) => [
      2 * curve.felt,
      ...curve.weeks.map((w) => Math.min(w.high ?? w.off, 2 * w.off + curve.felt)),
    ]),
  );
  return (
    <section aria-label={KIND[kind]}>
      <h3>{KIND[kind]}</h3>
      <div className="practice-curves">
        {curves.map((curve) => (
          <figure key={curve.group}>
            <WeeksChart curve={curve} name={curve.group} from={from} weeks={weeks} most={most} />
            <figcaption>
              {curve.group}{" "}
              <span className="hint">
                {curve.weeks.at(-1)?.off.toFixed(1)} {curve.unit}
              </span>
            </figcaption>
          </figure>
        ))}
      </div>
    </section>
  );
}
