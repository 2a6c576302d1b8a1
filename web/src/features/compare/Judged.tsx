import { type ReactNode, useMemo, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import type { Compared, Schemas } from "../../api/client";
import { comparing, useAdvice, type Way } from "../../api/comparing";
import { comparisonUrl, type SheetKind, saveFrom } from "../../api/files";
import { problemOf, useWrite } from "../../api/mutations";
import { useLimits, useMaterials } from "../../api/queries";
import { useEditor, usePiece, useSpots } from "../../document/useEditor";
import { Confirm } from "../../ui/Confirm";
import { useKeys } from "../../ui/keys";
import { useHeight } from "../../ui/useHeight";
import { useNoun } from "../../ui/useNoun";
import { ValueLadder } from "../../ui/ValueLadder";
import { Anchor } from "./Anchor";
import { ByHand } from "./ByHand";
import { Corrections } from "./Corrections";
import { Growth } from "./Growth";
import { type Arrangement, Stage } from "./Stage";

type Props = {
  compared: Compared;
  rows: Schemas["ComparisonRow"][];
  allLaid: boolean;
  waiting: boolean;
  problem: ReactNode;
  onPick: (id: string) => void;
  onAnother: () => void;
};

const ARRANGED: Record<Arrangement, string> = {
  lift: "Lift the corner",
  blink: "Blink",
  side: "Side by side",
};
const SEEN: Record<Way, string> = {
  as_it_is: "as it is",
  values: "in greys",
  squint: "squint",
  surround: "beside its colours",
};
const STAGES: Record<string, string> = {
  values: "Darks and lights",
  order: "Order and neighbours",
  hue: "Warm and cool",
  edges: "Edges",
  places: "Places",
};
const TROUBLES: Record<string, string> = {
  outside: "not in the photograph",
  glare: "under a glare",
  covered: "covered",
  bare: "still paper",
};

/** A photograph of the drawing, judged: the sheet over its picture, the ladder, and what to do. */
export function Judged({ compared, rows, allLaid, waiting, problem, onPick, onAnother }: Props) {
  const piece = usePiece();
  const spots = useSpots();
  const { refresh } = useEditor();
  const materials = useMaterials();
  const limits = useLimits();
  const noun = useNoun([], piece.document.setup.medium);
  const [ladder, height] = useHeight();
  const [arrangement, setArrangement] = useState<Arrangement>("lift");
  const [way, setWay] = useState<Way>("as_it_is");
  const [selected, setSelected] = useState<string | null>(null);
  const [figure, setFigure] = useState(piece.document.figures[0]?.id ?? "");
  const [setting, setSetting] = useState<"frame" | "spots" | "anchor" | null>(null);
  const [leaving, setLeaving] = useState(false);
  const [left, setLeft] = useState<Set<number>>(new Set());
  const key = `${piece.keys.sheet} ${compared.mean} ${JSON.stringify(compared.frame)}`;
  const advice = useAdvice(compared.id, key);
  const change = useWrite(
    (asked: Parameters<typeof comparing.change>[1]) => comparing.change(compared.id, asked),
    ["compared", "comparisons", "sheet", "advice"],
  );
  const printing = useWrite((kind: SheetKind) =>
    saveFrom(comparisonUrl(compared.id, kind), "comparison.pdf"),
  );
  const teach = useWrite(
    (learn: boolean) => comparing.teach(compared.id, learn),
    ["compared", "trials"],
    () => void refresh(),
  );
  const away = useWrite(
    () => comparing.delete(compared.id),
    ["comparisons", "sheet"],
    () => void refresh(),
  );
  const version = useMemo(() => compared.frame.flat().join("-"), [compared.frame]);
  const mine = spots.filter((spot) => spot.figure === figure);
  const read = Object.fromEntries(compared.spots.map((spot) => [spot.spot, spot]));
  const endings = Object.fromEntries(
    compared.spots.flatMap((row) =>
      row.seen
        ? [
            [
              row.spot,
              { value: row.seen.value, low: row.seen.value, high: row.seen.value, hex: row.seen.hex },
            ],
          ]
        : [],
    ),
  );
  const worst = compared.found.filter((row) => row.kind === "place");
  const named = worst
    .filter((row) => row.figure === figure)
    .flatMap((row) => row.spots.map((id) => ({ id, words: read[id]?.word ?? "" })));
  const chosen = (advice.data?.corrections ?? []).map((row) => row.number).filter((n) => !left.has(n));
  const first = compared.found.filter((row) => row.stage === "values");
  const spot = selected ? read[selected] : undefined;
  const ways = (Object.keys(SEEN) as Way[]).filter((row) => row !== "surround" || compared.bare);
  const arrangements = Object.keys(ARRANGED) as Arrangement[];
  const turn = <T,>(all: T[], now: T): T => all[(all.indexOf(now) + 1) % all.length] ?? now;
  useKeys([
    {
      key: "a",
      does: "Arrange drawing and picture otherwise",
      run: () => setArrangement(turn(arrangements, arrangement)),
    },
    { key: "v", does: "See both in another way", run: () => setWay(turn(ways, way)) },
    { key: "n", does: "A new photograph", run: onAnother },
  ]);
  const error = change.error ?? teach.error ?? away.error ?? printing.error;
  const said = error && (
    <p className="problem" role="alert">
      {problemOf(error)}
    </p>
  );
  const shape = { width: piece.picture?.width ?? 4, height: piece.picture?.height ?? 3 };
  return (
    <main className="compare">
      <section className="compare-sheet" aria-label="The drawing over its picture">
        {setting === "anchor" ? (
          <Anchor
            compared={compared}
            waiting={change.isPending}
            problem={said}
            onSet={(asked) => change.mutate(asked, { onSuccess: () => setSetting(null) })}
            onLeave={() => setSetting(null)}
          />
        ) : setting ? (
          <ByHand
            compared={compared}
            what={setting}
            spots={mine}
            waiting={change.isPending}
            onSet={(asked) => change.mutate(asked, { onSuccess: () => setSetting(null) })}
            onLeave={() => setSetting(null)}
          />
        ) : (
          <>
            <Stage
              compared={compared}
              shape={shape}
              arrangement={arrangement}
              way={way}
              named={named}
              selected={selected}
              mine={new Set(mine.map((row) => row.id))}
              version={version}
            />
            <div className="compare-ways">
              {arrangements.map((row) => (
                <button
                  key={row}
                  type="button"
                  aria-pressed={row === arrangement}
                  onClick={() => setArrangement(row)}
                >
                  {ARRANGED[row]}
                </button>
              ))}
              <span aria-hidden="true">·</span>
              {ways.map((row) => (
                <button key={row} type="button" aria-pressed={row === way} onClick={() => setWay(row)}>
                  {SEEN[row]}
                </button>
              ))}
            </div>
            <div className="compare-ways is-quiet">
              <button type="button" onClick={() => setSetting("frame")}>
                it lies wrong
              </button>
              <button type="button" onClick={() => setSetting("spots")}>
                move places
              </button>
              <button type="button" onClick={() => setSetting("anchor")}>
                {compared.chart
                  ? "by a chart"
                  : compared.beside.length
                    ? `by ${compared.beside.length} swatches`
                    : "swatches or a chart lie beside it"}
              </button>
              <button type="button" disabled={waiting} onClick={onAnother}>
                {waiting ? "laying it over its picture …" : "photograph it again"}
              </button>
              <button type="button" disabled={printing.isPending} onClick={() => printing.mutate("pdf")}>
                {printing.isPending ? "drawing it …" : "print"}
              </button>
              <a href={`/api/comparisons/${compared.id}/file`} download>
                take along
              </a>
            </div>
          </>
        )}
        {problem}
        {compared.said.map((sentence) => (
          <p key={sentence} className="notice" role="note">
            {sentence}
          </p>
        ))}
        {compared.bare && (
          <p className="notice" role="note">
            Most of what neighbours the skin is still paper: skin looks darker than it is. Judge it again once
            hair and cloth are in, or look at it beside its colours.
          </p>
        )}
        <Growth rows={rows} current={compared.id} onPick={onPick} />
        <Form.Group controlId="compare-note" className="compare-note">
          <Form.Label>Note on this photograph</Form.Label>
          <Form.Control
            maxLength={limits.note}
            defaultValue={compared.note}
            onBlur={(event) =>
              event.target.value !== compared.note && change.mutate({ note: event.target.value })
            }
          />
        </Form.Group>
        <details className="compare-found">
          <summary>What was seen, in order</summary>
          {Object.entries(STAGES).map(([stage, title]) => {
            const its = compared.found.filter((row) => row.stage === stage);
            return (
              its.length > 0 && (
                <section key={stage} aria-label={title}>
                  <h2 className="h6">{title}</h2>
                  <ul>
                    {its.map((row) => (
                      <li key={row.text}>{row.text}</li>
                    ))}
                  </ul>
                </section>
              )
            );
          })}
        </details>
      </section>
      <section className="compare-ladder" aria-label="Values">
        {piece.document.figures.length > 1 && (
          <div className="compare-ways">
            {piece.document.figures.map((row) => (
              <button
                key={row.id}
                type="button"
                aria-pressed={row.id === figure}
                onClick={() => setFigure(row.id)}
              >
                {row.name}
              </button>
            ))}
          </div>
        )}
        <div className="compare-rail" ref={ladder}>
          <ValueLadder
            spots={mine}
            endings={endings}
            reach={null}
            selected={selected}
            onSelect={setSelected}
            height={height}
            greys={materials.data?.value_greys ?? []}
            drawn
          />
        </div>
        {spot && <OneSpot spot={spot} name={mine.find((row) => row.id === spot.spot)?.name ?? ""} />}
      </section>
      <section className="compare-do" aria-label="What to do">
        <h1>{advice.data?.headline ?? (advice.error ? "Judged" : "Working out what would help …")}</h1>
        <p>{first.map((row) => row.text).join(" ")}</p>
        {advice.data && <p className="hint">{advice.data.line}</p>}
        {advice.error && (
          <p className="problem" role="alert">
            {problemOf(advice.error, "")}
          </p>
        )}
        {allLaid && (
          <p className="hint">
            Nothing is ticked in <Link to={`/pieces/${piece.id}/work`}>Work</Link>, so the whole plan is taken
            as laid.
          </p>
        )}
        {advice.data && (
          <Corrections
            compared={compared}
            advice={advice.data}
            chosen={new Set(chosen)}
            onChoose={(number, on) => {
              const next = new Set(left);
              if (on) next.delete(number);
              else next.add(number);
              setLeft(next);
            }}
          />
        )}
        {setting !== "anchor" && said}
        <div className="compare-deeds is-quiet">
          {compared.teaches > 0 && (
            <Button variant="quiet" disabled={teach.isPending} onClick={() => teach.mutate(!compared.taught)}>
              {teach.isPending
                ? "learning …"
                : compared.taught
                  ? "take back what it taught"
                  : `let the ${noun}s learn from its ${compared.teaches} places`}
            </Button>
          )}
          <Button variant="quiet" onClick={() => setLeaving(true)}>
            put this photograph aside
          </Button>
        </div>
        {teach.data?.taught && teach.data.errors && (
          <p role="note">
            {teach.data.places} places learnt from: off by {teach.data.errors.before.toFixed(1)} before, by{" "}
            {teach.data.errors.after.toFixed(1)} now. {teach.data.words[0]}
          </p>
        )}
        <div className="compare-deeds">
          {compared.taken.length > 0 ? (
            <>
              <Button
                variant="quiet"
                disabled={change.isPending}
                onClick={() => change.mutate({ taken: [] })}
              >
                remove it from the sheet
              </Button>
              <Link className="btn btn-act btn-deed" to={`/pieces/${piece.id}/work`}>
                Go on in Work
              </Link>
            </>
          ) : (
            (advice.data?.corrections.length ?? 0) > 0 && (
              <Button
                variant="act"
                className="btn-deed"
                disabled={change.isPending || chosen.length === 0}
                onClick={() => change.mutate({ taken: chosen })}
              >
                Add as round two
              </Button>
            )
          )}
        </div>
      </section>
      <Confirm
        show={leaving}
        title={`Put photograph ${compared.number} aside?`}
        text="What was read from it goes with it, and what it taught. Corrections taken from it leave the sheet; ticks in Work stay."
        action="Put it aside"
        onConfirm={() => {
          setLeaving(false);
          away.mutate(undefined);
        }}
        onCancel={() => setLeaving(false)}
      />
    </main>
  );
}

function OneSpot({ spot, name }: { spot: Compared["spots"][number]; name: string }) {
  const steps = Math.abs(spot.steps).toFixed(1);
  return (
    <p className="compare-spot" aria-live="polite">
      <b>{name}</b>{" "}
      {spot.seen ? (
        <>
          {spot.word || spot.close}: {steps} {spot.steps > 0 ? "lighter" : "darker"}, off by{" "}
          {spot.off.toFixed(1)}, read to ±{spot.doubt.toFixed(1)}
          {spot.trouble && ` (${TROUBLES[spot.trouble]})`}
        </>
      ) : (
        TROUBLES[spot.trouble]
      )}
    </p>
  );
}
