import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { server, type Trials } from "../../api/client";
import { problemOf, useWrite } from "../../api/mutations";
import { useEditor } from "../../document/useEditor";
import { Changes } from "./Changes";
import { seenAs } from "./words";

const FULL = 8;
const FIRST = 4;
const part = (off: number) => `${Math.min(100, (100 * off) / FULL)}%`;

/** What all cards of these sticks on this paper have shown: before and now, in bars and in words. */
export function Taught({ trials, piece }: { trials: Trials; piece: string }) {
  const { learnt } = trials;
  if (!learnt) return null;
  const rows = learnt.errors
    ? [
        { name: "these boxes, before", off: learnt.errors.before },
        { name: "these boxes, now", off: learnt.errors.after },
        { name: "each from the others", off: learnt.errors.held_out },
      ]
    : [];
  return (
    <div className="try-taught">
      <h2>What it teaches</h2>
      <dl>
        {rows.map((row) => (
          <div key={row.name}>
            <dt>{row.name}</dt>
            <dd>
              <span className="bar-of" aria-hidden="true">
                <i style={{ width: part(row.off) }} />
              </span>
              {row.off.toFixed(1)}, {seenAs(row.off)}
            </dd>
          </div>
        ))}
      </dl>
      <p className="hint">
        From {learnt.boxes} boxes on {trials.paper}.{" "}
        {learnt.disagree > 0 &&
          `${learnt.disagree === 1 ? "One disagrees" : `${learnt.disagree} disagree`} with all others, and hardly count.`}
      </p>
      <ul>
        {learnt.words.slice(0, FIRST).map((words) => (
          <li key={words}>{words}</li>
        ))}
      </ul>
      {learnt.words.length > FIRST && (
        <details>
          <summary>{learnt.words.length - FIRST} more</summary>
          <ul>
            {learnt.words.slice(FIRST).map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        </details>
      )}
      <h2>What it changes</h2>
      <Changes trials={trials} />
      <details>
        <summary>How it came about, and taking it back</summary>
        <ol className="try-history">
          {learnt.history.map((row) => (
            <li key={row.made}>
              {new Date(row.made).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" })}:{" "}
              {row.boxes === 0 ? "nothing known" : `${row.boxes} boxes, plans off by ${row.doubt.toFixed(1)}`}
            </li>
          ))}
        </ol>
        <TakeBack piece={piece} sticks={learnt.sticks} />
      </details>
    </div>
  );
}

/** Boxes of one stick, or all, are not learnt from any more: each can be taken in again on its photograph. */
function TakeBack({ piece, sticks }: { piece: string; sticks: readonly string[] }) {
  const { refresh } = useEditor();
  const [stick, setStick] = useState("");
  const back = useWrite(
    (code: string | null) => server.takeBackBoxes(piece, { stick: code }),
    ["trials"],
    () => void refresh(),
  );
  return (
    <div className="try-deeds">
      <Form.Select
        size="sm"
        className="w-auto"
        aria-label="Which to take back"
        value={stick}
        onChange={(event) => setStick(event.target.value)}
      >
        <option value="">one of them …</option>
        {sticks.map((code) => (
          <option key={code}>{code}</option>
        ))}
      </Form.Select>
      <Button
        variant="quiet"
        size="sm"
        disabled={back.isPending || stick === ""}
        onClick={() => back.mutate(stick)}
      >
        leave its boxes out
      </Button>
      <Button variant="quiet" size="sm" disabled={back.isPending} onClick={() => back.mutate(null)}>
        leave all boxes out
      </Button>
      {back.error && (
        <p className="problem" role="alert">
          {problemOf(back.error, "What was learnt before is kept.")}
        </p>
      )}
    </div>
  );
}
