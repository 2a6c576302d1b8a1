import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import type { Stick, Tray } from "../../api/client";
import { useUses } from "../../api/queries";
import { Segments } from "../../ui/Segments";
import { Strokes } from "../../ui/Strokes";
import { CONDITIONS, FEELS, OPACITY, SOURCE, whereInBox } from "../../ui/stickWords";
import { EditStick } from "./EditStick";
import { StandIns } from "./StandIns";
import type { Box } from "./useBox";

type Props = { tray: Tray; stick: Stick; box: Box; onPick: (code: string) => void };

/** One stick: what it looks like, what is known of it, how much of it there is, where it lies. */
export function StickPanel({ tray, stick, box, onPick }: Props) {
  const [editing, setEditing] = useState(false);
  const [asking, setAsking] = useState(false);
  const uses = useUses(tray.id).data?.filter((row) => row.code === stick.code) ?? [];
  const at = tray.sticks.findIndex((row) => row.code === stick.code);
  const change = (part: Parameters<Box["change"]>[1]) => box.change([stick.code], part);
  const facts = [
    stick.range,
    stick.pigments.length ? `pigments ${stick.pigments.join(", ")}` : "",
    stick.lightfastness ? `lightfastness ${stick.lightfastness}` : "",
    stick.binder ? `bound in ${stick.binder}` : "",
  ].filter(Boolean);
  return (
    <section className="stick-panel" aria-label={`${stick.code} ${stick.name}`}>
      <span className="stick-large">
        <Strokes hex={stick.swatch.hex} pressure="heavy" medium={stick.medium} />
      </span>
      <h2>
        <b>{stick.code}</b> {stick.name}
      </h2>
      <p>
        {stick.swatch.words}, value {stick.swatch.value.toFixed(1)}; {OPACITY[stick.opacity]}
      </p>
      {SOURCE[stick.source] && <p className="hint">{SOURCE[stick.source]}</p>}
      {stick.cautions.map((caution) => (
        <p key={caution} role="note">
          {caution}
        </p>
      ))}
      {editing ? (
        <EditStick
          key={stick.code}
          stick={stick}
          sticks={tray.sticks}
          onDone={() => setEditing(false)}
          onChange={(part) => {
            setEditing(false);
            change(part);
            if (part.code) onPick(part.code);
          }}
        />
      ) : (
        <Button variant="quiet" size="sm" onClick={() => setEditing(true)}>
          change its name or colour
        </Button>
      )}
      <Segments
        label="How it is"
        choices={Object.keys(CONDITIONS)}
        chosen={stick.condition}
        onChoose={(condition) => change({ condition })}
        say={(condition) => (
          <span className="condition">
            <Wear condition={condition} hex={stick.swatch.hex} />
            {CONDITIONS[condition]}
          </span>
        )}
      />
      <div className="stick-count">
        <span>How many</span>
        <Button
          variant="quiet"
          size="sm"
          aria-label="One fewer"
          disabled={stick.count < 2}
          onClick={() => change({ count: stick.count - 1 })}
        >
          −
        </Button>
        <b>{stick.count}</b>
        <Button
          variant="quiet"
          size="sm"
          aria-label="One more"
          disabled={stick.count > 98}
          onClick={() => change({ count: stick.count + 1 })}
        >
          +
        </Button>
      </div>
      <h3>In the box: {whereInBox(at, tray.per_row)}</h3>
      <MiniBox tray={tray} at={at} onPick={onPick} />
      <h3>In the hand</h3>
      <p className="feels">
        {FEELS.map((feel) => {
          const on = stick.feel.includes(feel);
          return (
            <Button
              key={feel}
              variant={on ? "chosen" : "quiet"}
              size="sm"
              aria-pressed={on}
              onClick={() =>
                change({ feel: on ? stick.feel.filter((row) => row !== feel) : [...stick.feel, feel] })
              }
            >
              {feel}
            </Button>
          );
        })}
      </p>
      <Form.Control
        as="textarea"
        rows={2}
        key={`${stick.code} ${stick.note}`}
        aria-label={`Note on ${stick.code}`}
        placeholder="a note"
        maxLength={300}
        defaultValue={stick.note}
        onBlur={(event) => event.target.value !== stick.note && change({ note: event.target.value })}
      />
      <Warned stick={stick} sticks={tray.sticks} onPick={onPick} />
      {uses.length > 0 && (
        <p>
          Planned in{" "}
          {uses.map((use, i) => (
            <span key={use.piece}>
              {i > 0 && ", "}
              <Link to={`/pieces/${use.piece}/mix`}>{use.title}</Link> (
              {use.layers > 1 ? `${use.layers} layers` : "a layer"})
            </span>
          ))}
          .
        </p>
      )}
      {asking ? (
        <StandIns tray={tray} stick={stick} onPick={onPick} onClose={() => setAsking(false)} />
      ) : (
        <Button variant="quiet" size="sm" onClick={() => setAsking(true)}>
          what stands in for it
        </Button>
      )}
      {facts.length > 0 && <p className="hint">{facts.join("; ")}</p>}
      <Button variant="quiet" size="sm" onClick={() => box.takeAway([stick.code])}>
        remove it from the box
      </Button>
    </section>
  );
}

/** What it is easily taken for. */
function Warned({
  stick,
  sticks,
  onPick,
}: {
  stick: Stick;
  sticks: Stick[];
  onPick: (code: string) => void;
}) {
  const link = (code: string) => (
    <Button key={code} variant="quiet" size="sm" className="in-line" onClick={() => onPick(code)}>
      {code} {sticks.find((row) => row.code === code)?.name}
    </Button>
  );
  if (stick.equal.length + stick.mistaken.length === 0) return null;
  return (
    <div className="warned" role="note">
      {stick.mistaken.length > 0 && (
        <p>
          Easily taken for {stick.mistaken.map(link)}: the names are nearly the same, the colours are not.
        </p>
      )}
      {stick.equal.length > 0 && <p>As good as equal to {stick.equal.map(link)}.</p>}
    </div>
  );
}

/** A stick as it wears: whole, short, broken, not there. */
function Wear({ condition, hex }: { condition: string; hex: string }) {
  const length = condition === "low" ? 20 : 44;
  const wanted = condition === "wanted";
  return (
    <svg viewBox="0 0 56 16" aria-hidden="true" className="wear">
      <path
        d={`M2 3 H${length - 4} L${length + 8} 8 L${length - 4} 13 H2 Z`}
        fill={wanted ? "none" : hex}
        stroke="currentColor"
        strokeDasharray={wanted ? "3 2" : undefined}
      />
      {condition === "dried_out" && (
        <path
          d="M18 2 l4 5 -4 2 5 5 M32 2 l4 5 -4 2 5 5"
          stroke="var(--paper)"
          fill="none"
          strokeWidth="1.6"
        />
      )}
    </svg>
  );
}

/** The box from above, and where in it the stick lies. */
function MiniBox({ tray, at, onPick }: { tray: Tray; at: number; onPick: (code: string) => void }) {
  const perRow = tray.per_row || 24;
  const rows = Math.ceil(tray.sticks.length / perRow);
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the chart is the way for the keyboard
    <svg
      className="mini-box"
      viewBox={`0 0 ${perRow * 10} ${rows * 22}`}
      role="img"
      aria-label={`It lies ${whereInBox(at, tray.per_row)}`}
      onClick={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        const column = Math.floor(((event.clientX - box.left) / box.width) * perRow);
        const row = Math.floor(((event.clientY - box.top) / box.height) * rows);
        const hit = tray.sticks[row * perRow + column];
        if (hit) onPick(hit.code);
      }}
    >
      {tray.sticks.map((stick, i) => {
        const [x, y] = [(i % perRow) * 10, Math.floor(i / perRow) * 22];
        const here = i === at;
        return (
          <rect
            key={stick.code}
            x={x + (here ? 0 : 1.5)}
            y={y + (here ? 1 : 3)}
            width={here ? 10 : 7}
            height={here ? 20 : 16}
            fill={stick.swatch.hex}
            stroke={here ? "var(--ink)" : "none"}
            strokeWidth="1.6"
          />
        );
      })}
    </svg>
  );
}
