import { Form } from "react-bootstrap";
import type { Advice, Compared } from "../../api/client";
import { correctionUrl } from "../../api/comparing";
import { useSticks } from "../../api/queries";
import { usePiece } from "../../document/useEditor";
import { Strokes } from "../../ui/Strokes";

const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);

type Props = {
  compared: Compared;
  advice: Advice;
  chosen: Set<number>;
  onChoose: (number: number, on: boolean) => void;
};

/** Three to five things, in the order of what they bring; and where nothing helps. */
export function Corrections({ compared, advice, chosen, onChoose }: Props) {
  const piece = usePiece();
  const { sticks } = useSticks(piece.document.tray);
  const several = piece.document.figures.length > 1;
  const figureOf = (id: string) => piece.document.figures.find((row) => row.id === id)?.name ?? "";
  const names = (spots: string[]) =>
    piece.document.spots
      .filter((spot) => spots.includes(spot.id))
      .map((spot) => (several ? `${figureOf(spot.figure)}: ${spot.name}` : spot.name))
      .join(", ");
  return (
    <ol className="corrections">
      {advice.corrections.map((row) => {
        const stick = sticks.find((held) => held.code === row.stick);
        const hardest = Object.values(row.levels).some((level) => level?.pressure === "heavy")
          ? "heavy"
          : "light";
        const brings =
          row.before_words === row.after_words
            ? `${row.after_words}, nearer by ${(row.before - row.after).toFixed(1)}`
            : `${row.before_words} → ${row.after_words}`;
        return (
          <li key={row.number} className={row.number ? "" : "is-first"}>
            <span className="correction-number">{row.number + 1}</span>
            <span className="correction-then">
              <img
                src={correctionUrl(compared.id, row.number, "then")}
                alt={`${row.area}: left as it is, right as it will be`}
                width={104}
                height={104}
              />
              <span aria-hidden="true">
                <small>now</small>
                <small>then</small>
              </span>
            </span>
            <div>
              <h2>
                {several ? `${figureOf(row.figure)}: ` : ""}
                {row.title}
              </h2>
              <p>
                {capital(row.area)}. <b>{row.stick}</b> {row.name}, {row.how}.
              </p>
              <p className="hint">
                brings the face: <b>{brings}</b>
              </p>
              <Form.Check
                type="checkbox"
                id={`correction-${row.number}`}
                label={row.taken ? "on the sheet" : "do this"}
                disabled={compared.taken.length > 0}
                checked={row.taken || chosen.has(row.number)}
                onChange={(event) => onChoose(row.number, event.target.checked)}
              />
            </div>
            <Strokes hex={row.hex} pressure={hardest} medium={stick?.medium} />
          </li>
        );
      })}
      {advice.nothing.map((row) => (
        <li key={row.text} className="is-nothing">
          <div>
            <h2>{names(row.spots)}</h2>
            <p>{row.text}</p>
            {row.caution && <p className="caution">{row.caution}</p>}
          </div>
        </li>
      ))}
    </ol>
  );
}
