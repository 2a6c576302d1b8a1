import { type PointerEvent, useRef, useState } from "react";
import { Form } from "react-bootstrap";
import { type Foresight, forecastUrl, pictureUrl, viewUrl } from "../../api/client";
import { useFigures } from "../../api/queries";
import { usePiece } from "../../document/useEditor";
import { Segments } from "../../ui/Segments";

const clamp = (v: number) => Math.min(1, Math.max(0, v));
const STEP = 0.05;

/** The reference and, to the right of a movable divider, the drawing that the recipes will make of it. */
export function ForecastPicture({ asked }: { asked: Foresight }) {
  const piece = usePiece();
  const [at, setAt] = useState(0.5);
  const place = useRef<HTMLDivElement>(null);
  const [problem, setProblem] = useState(false);
  const [shown, setShown] = useState("");
  const { picture } = piece;
  if (!picture) return null;
  const move = (event: PointerEvent) => {
    const box = place.current?.getBoundingClientRect();
    if (box && event.buttons) setAt(clamp((event.clientX - box.left) / box.width));
  };
  const nudge = (event: React.KeyboardEvent) => {
    const by = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    setAt((held) => clamp(held + by));
  };
  const url = forecastUrl(piece, asked);
  return (
    <section className="forecast" aria-label="Forecast">
      <div
        ref={place}
        className="forecast-place"
        style={{ aspectRatio: `${picture.width} / ${picture.height}` }}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          move(event);
        }}
        onPointerMove={move}
      >
        <img
          src={asked.values ? viewUrl(piece, "values", 9, false, false) : pictureUrl(picture.id)}
          alt="The reference"
          draggable={false}
        />
        <img
          src={url}
          alt="The drawing foreseen"
          draggable={false}
          style={{ clipPath: `inset(0 0 0 ${at * 100}%)` }}
          onLoad={() => {
            setProblem(false);
            setShown(url);
          }}
          onError={() => setProblem(true)}
        />
        <span className="forecast-side is-left">reference</span>
        <span className="forecast-side is-right">{shown === url ? "drawing" : "working it out …"}</span>
        <div
          className="divider"
          style={{ left: `${at * 100}%` }}
          role="slider"
          tabIndex={0}
          aria-label="Divider between reference and forecast"
          aria-valuemin={0}
          aria-valuemax={100}
          aria-valuenow={Math.round(at * 100)}
          onKeyDown={nudge}
        />
      </div>
      {problem && (
        <p className="problem" role="alert">
          There is no forecast yet: mix the spots first.
        </p>
      )}
    </section>
  );
}

/** How the forecast is shown. */
export function ForecastTools({ asked, onAsk }: { asked: Foresight; onAsk: (next: Foresight) => void }) {
  const piece = usePiece();
  const figures = useFigures(piece.id, piece.keys.figures);
  const stages = figures.data?.stages ?? [];
  const said = (stage: number) => (stage < 0 ? "finished" : `after stage ${stage + 1}`);
  const names = stages[asked.stage];
  return (
    <section className="forecast-tools" aria-label="How the forecast is shown">
      <h2 className="h5">The drawing foreseen</h2>
      <p className="hint">Left of the line the reference, right of it nothing but these recipes.</p>
      <Segments
        label="Colour or values"
        choices={["colour", "values"]}
        chosen={asked.values ? "values" : "colour"}
        onChoose={(choice) => onAsk({ ...asked, values: choice === "values" })}
      />
      <Form.Check
        type="switch"
        id="forecast-grain"
        label="Grain of the paper"
        checked={asked.grain}
        onChange={(event) => onAsk({ ...asked, grain: event.target.checked })}
      />
      <Form.Check
        type="switch"
        id="forecast-muted"
        label="Fade what is not skin"
        checked={asked.muted}
        onChange={(event) => onAsk({ ...asked, muted: event.target.checked })}
      />
      <fieldset className="stage-list">
        <legend className="h6">Stage by stage</legend>
        <Segments
          label="Stage"
          choices={[...stages.map((_, i) => i), -1]}
          chosen={asked.stage}
          say={said}
          onChoose={(stage) => onAsk({ ...asked, stage })}
        />
        <p className="hint">
          {names
            ? `Done by then: ${stages
                .slice(0, asked.stage + 1)
                .map((roles) => roles.join(", "))
                .join("; ")}. It may look strange: that is how it should be.`
            : "Everything is laid."}
        </p>
      </fieldset>
    </section>
  );
}
