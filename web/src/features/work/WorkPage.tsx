import { useMemo, useState } from "react";
import { Button, Form, ProgressBar } from "react-bootstrap";
import { Link } from "react-router";
import { pictureUrl } from "../../api/client";
import { useLimits, useSheet, useSticks } from "../../api/queries";
import { useEditor, usePiece, useSpots } from "../../document/useEditor";
import { CloseUp } from "../../ui/CloseUp";
import { useKeys } from "../../ui/keys";
import { PictureCanvas } from "../../ui/PictureCanvas";
import { RoleMark } from "../../ui/RoleMark";
import { Chip, StickDot } from "../../ui/Swatch";
import { type PickUp, pickUps } from "./jobs";

export function WorkPage() {
  const piece = usePiece();
  const { note } = useEditor();
  const { document, picture } = piece;
  const { done } = piece.work;
  const spots = useSpots();
  const { sticks, waiting } = useSticks(document.tray);
  const sheet = useSheet(piece.id, piece.keys.sheet);
  const [looked, setLooked] = useState<number | null>(null);
  const list = useMemo(() => {
    return sheet.data ? pickUps(sheet.data, spots, sticks) : [];
  }, [sheet.data, sticks, spots]);
  const open = list.findIndex((pickUp) => pickUp.jobs.some((job) => !done[job.pass_id]));
  const index = looked ?? open;
  const now = list[index];
  const next = list[index + 1];
  const jobs = list.flatMap((pickUp) => pickUp.jobs);
  const finished = jobs.filter((job) => done[job.pass_id]).length;

  const mark = (ids: string[], as: "done" | "skipped" | null) => {
    note(Object.fromEntries(ids.map((id) => [id, { state: as ?? ("" as const) }])));
    setLooked(null);
  };
  const first = now?.jobs.find((job) => !done[job.pass_id]);
  useKeys([
    { key: "t", does: "Tick the next place", run: () => first && mark([first.pass_id], "done") },
    { key: "k", does: "Skip the next place", run: () => first && mark([first.pass_id], "skipped") },
    {
      key: "ArrowRight",
      does: "Look at the next stick",
      run: () => setLooked(Math.min(list.length - 1, index + 1)),
    },
    { key: "ArrowLeft", does: "Look at the stick before", run: () => setLooked(Math.max(0, index - 1)) },
  ]);

  // All at once, so that nothing jumps while an artist reaches for it.
  if (waiting || (sheet.isPending && document.tray))
    return (
      <main key="wait" className="wait">
        Sorting the steps…
      </main>
    );
  if (jobs.length === 0) {
    return (
      <main className="page">
        <section className="empty">
          <h2>Nothing to lay down yet</h2>
          <p>
            {sheet.error
              ? sheet.error.message
              : "Once the spots are mixed, every step waits here in working order."}
          </p>
          <Link className="btn btn-act" to={`/pieces/${piece.id}/mix`}>
            Go and mix
          </Link>
        </section>
      </main>
    );
  }
  const near = first ?? now?.jobs[0];
  const marked = new Set(now?.jobs.map((job) => job.spot) ?? []);
  return (
    <main className="work">
      <section className="work-picture" aria-label="Where">
        {picture && (
          <PictureCanvas
            url={pictureUrl(picture.id)}
            alt={`Reference of ${piece.title}`}
            width={picture.width}
            height={picture.height}
            spots={spots}
            figures={document.figures}
            selected={null}
            marked={now ? marked : undefined}
            onSelect={() => {}}
            byWidth={0.55}
          />
        )}
        {picture && near && <CloseUp picture={picture.id} spot={near.place} />}
        {sheet.data?.cautions.map((text) => (
          <p key={text} className="caution">
            {text}
          </p>
        ))}
      </section>
      <section className="work-now" aria-label="Now">
        {now ? (
          <Now pickUp={now} isNow={index === open} mark={mark} />
        ) : (
          <div className="empty-small">
            <h2>All laid down</h2>
            <p>Step back, look at the darks once more, then the few sharp highlights.</p>
          </div>
        )}
        {next && (
          <button type="button" className="next" onClick={() => setLooked(index + 1)}>
            <span className="eyebrow">Then</span>
            <StickDot hex={next.stick?.hex ?? "transparent"} />
            <span>
              <b className="numbers">{next.code}</b> {next.stick?.name}
            </span>
            <span className="hint">{next.jobs.map((job) => job.place.name).join(", ")}</span>
          </button>
        )}
      </section>
      <aside className="work-list" aria-label="All steps">
        <div className="work-head">
          <ProgressBar now={finished} max={jobs.length} aria-label="Steps done" />
          <span className="numbers">
            {finished} of {jobs.length} steps, {list.length} pick-ups
            {sheet.data && sheet.data.fewest === list.length ? " (no order needs fewer)" : ""}
          </span>
          <Link to={`/pieces/${piece.id}/print`} className="btn btn-quiet btn-sm">
            Print
          </Link>
        </div>
        <ol>
          {list.map((pickUp, i) => {
            const left = pickUp.jobs.filter((job) => !done[job.pass_id]).length;
            return (
              <li key={pickUp.jobs[0]?.pass_id ?? i}>
                <button
                  type="button"
                  className={`${i === index ? "is-selected" : ""}${left === 0 ? " is-done" : ""}`}
                  aria-current={i === index ? "step" : undefined}
                  onClick={() => setLooked(i)}
                >
                  <span className="numbers">{left === 0 ? "✓" : i + 1}</span>
                  <StickDot hex={pickUp.stick?.hex ?? "transparent"} />
                  <span>
                    <b className="numbers">{pickUp.code}</b> {pickUp.stick?.name}
                  </span>
                  <span className="numbers">{pickUp.jobs.length}</span>
                </button>
              </li>
            );
          })}
        </ol>
      </aside>
    </main>
  );
}

type NowProps = {
  pickUp: PickUp;
  isNow: boolean;
  mark: (ids: string[], as: "done" | "skipped" | null) => void;
};

function Now({ pickUp, isNow, mark }: NowProps) {
  const piece = usePiece();
  const { done } = piece.work;
  const { stick, code, jobs } = pickUp;
  const open = jobs.filter((job) => !done[job.pass_id]);
  return (
    <>
      <header className="now-head">
        {stick && <Chip swatch={stick.swatch} tall />}
        <div>
          <span className="eyebrow">{isNow ? "Now pick up" : "Looking at"}</span>
          <h2>
            <span className="numbers">{code}</span> {stick?.name ?? "not in this tray"}
          </h2>
          <span className="hint">{stick?.swatch.words}</span>
        </div>
        <Button
          variant="act"
          disabled={open.length === 0}
          onClick={() =>
            mark(
              open.map((job) => job.pass_id),
              "done",
            )
          }
        >
          Tick all {open.length || ""}
        </Button>
      </header>
      <ul className="jobs">
        {jobs.map((job) => {
          const state = done[job.pass_id];
          const after = job.place.outcome?.steps[job.index]?.after;
          return (
            <li key={job.pass_id} className={state ? `is-${state}` : ""}>
              <Form.Check
                type="checkbox"
                id={`tick-${job.pass_id}`}
                aria-label={`${job.place.name}: done`}
                checked={state === "done"}
                onChange={(event) => mark([job.pass_id], event.target.checked ? "done" : null)}
              />
              <label htmlFor={`tick-${job.pass_id}`}>
                <b>
                  <span className="numbers">{job.number}</span> <RoleMark role={job.place.role} />{" "}
                  {job.place.name}
                </b>
                <span>{job.manner}</span>
              </label>
              {after && <Chip swatch={after} label="then" />}
              <Button
                variant="quiet"
                size="sm"
                aria-pressed={state === "skipped"}
                onClick={() => mark([job.pass_id], state === "skipped" ? null : "skipped")}
              >
                {state === "skipped" ? "skipped" : "skip"}
              </Button>
              <Note passId={job.pass_id} name={job.place.name} />
            </li>
          );
        })}
      </ul>
    </>
  );
}

function Note({ passId, name }: { passId: string; name: string }) {
  const piece = usePiece();
  const { note } = useEditor();
  const limits = useLimits();
  const held = piece.work.notes[passId] ?? "";
  const [text, setText] = useState<string | null>(null);
  const finish = () => {
    if (text !== null && text !== held) {
      note({ [passId]: { note: text } });
    }
    setText(null);
  };
  return (
    <Form.Control
      size="sm"
      className="note"
      aria-label={`Note on ${name}`}
      placeholder="note"
      maxLength={limits.note}
      value={text ?? held}
      onChange={(event) => setText(event.target.value)}
      onBlur={finish}
      onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
    />
  );
}
