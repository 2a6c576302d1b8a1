import { useState } from "react";
import { Button } from "react-bootstrap";
import type { TrialCard, Trials } from "../../api/client";
import { useSticks } from "../../api/queries";
import { usePiece } from "../../document/useEditor";
import { useKeys } from "../../ui/keys";
import { Strokes } from "../../ui/Strokes";

type Props = { card: TrialCard; trials: Trials; onDone: () => void };

/** The card beside the paper: one box at a time, large. */
export function FillCard({ card, trials, onDone }: Props) {
  const { document } = usePiece();
  const { sticks } = useSticks(document.tray);
  const [at, setAt] = useState(0);
  const box = card.boxes[at];
  const to = (next: number) => setAt(Math.min(card.boxes.length - 1, Math.max(0, next)));
  useKeys([
    { key: "ArrowRight", does: "The next box", run: () => to(at + 1) },
    { key: "ArrowLeft", does: "The box before", run: () => to(at - 1) },
    { key: "Escape", does: "Back to the card", run: onDone },
  ]);
  if (!box) return null;
  return (
    <main className="try-fill">
      <p className="hint">
        Card {card.number} · box {box.number} of {card.boxes.length} {box.says && `· ${box.says}`}
      </p>
      <ol>
        {box.lines.map((line, i) => {
          const stick = sticks.find((row) => line.replace("+ ", "").startsWith(`${row.code} `));
          return (
            <li key={line}>
              {stick && <Strokes hex={stick.swatch.hex} pressure={pressureOf(line)} medium={stick.medium} />}
              <b>{line.replace("+ ", "")}</b>
              <span>{stick?.name}</span>
              {i < box.lines.length - 1 && trials.medium === "marker" && (
                <span className="hint">let it dry</span>
              )}
            </li>
          );
        })}
      </ol>
      <p className="try-foreseen">
        <i style={{ background: box.foreseen }} aria-hidden="true" /> so it should look, up to its frame
      </p>
      <div className="try-deeds">
        <Button variant="quiet" disabled={at === 0} onClick={() => to(at - 1)}>
          the box before
        </Button>
        {at < card.boxes.length - 1 ? (
          <Button variant="act" onClick={() => to(at + 1)}>
            Next box
          </Button>
        ) : (
          <Button variant="act" onClick={onDone}>
            It is filled
          </Button>
        )}
        <Button variant="quiet" onClick={onDone}>
          back to the card
        </Button>
      </div>
      {at === 0 && <p className="hint">{trials.caution}</p>}
    </main>
  );
}

const pressureOf = (line: string): string =>
  ["light", "medium", "heavy"].find((pressure) => line.includes(` ${pressure}`)) ?? "medium";
