import { Link } from "react-router";
import type { Trials } from "../../api/client";
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
      <p>
        Every plan is now foreseen by this. <Link to={`/pieces/${piece}/mix`}>Plan the layers anew</Link>, or
        keep them.
      </p>
    </div>
  );
}
