import { useState } from "react";
import { type CardPhoto, server, type TrialCard } from "../../api/client";
import { problemOf, useWrite } from "../../api/mutations";
import { squaredUrl } from "../../api/pictures";
import { useEditor } from "../../document/useEditor";

type Box = CardPhoto["boxes"][number];

const VERDICTS: Record<string, string> = {
  empty: "empty",
  glare: "glare",
  edge: "over the edge",
  exchanged: "exchanged?",
};

const TELLS = 0.05;

/** What an under-colour does in a box of a cross, as short as it can be said: whether it shows, and the shift in value. */
const crossedIn = ({ crossed, lighter }: Box): string =>
  Math.abs(lighter) < TELLS
    ? crossed
    : `${crossed} ${lighter < 0 ? "−" : "+"}${Math.abs(lighter).toFixed(1)}`;

/** The card: what to lay in each box, or its photograph with what was read of them. */
export function CardBoxes({ card, photo }: { card: TrialCard; photo: CardPhoto | undefined }) {
  const [picked, setPicked] = useState<number | null>(null);
  const [there, setThere] = useState("");
  if (!photo) return <Boxes card={card} />;
  const box = photo.boxes.find((row) => row.number === picked);
  const url = squaredUrl(photo.picture, photo.corners as [number, number][]);
  return (
    <section className="try-card" aria-label={`Card ${card.number}`}>
      {/* Boxes have their places only once the picture has its height. */}
      <div className={`try-photo${there === url ? "" : " is-coming"}`}>
        <img
          src={url}
          alt={`Card ${card.number}, page ${photo.page + 1}, from above`}
          onLoad={() => setThere(url)}
        />
        {photo.boxes.map((row) => (
          <button
            key={row.number}
            type="button"
            className={`try-box is-${row.verdict}${row.learnt ? "" : " is-left"}${row.liked ? " is-liked" : ""}`}
            aria-pressed={picked === row.number}
            aria-label={`Box ${row.number}, ${VERDICTS[row.verdict] ?? (row.learnt ? "learnt from" : "left out")}${row.liked ? ", liked" : ""}`}
            style={{
              left: `${100 * row.place.left}%`,
              top: `${100 * row.place.top}%`,
              width: `${100 * (row.place.right - row.place.left)}%`,
              height: `${100 * (row.place.bottom - row.place.top)}%`,
            }}
            onClick={() => setPicked(row.number === picked ? null : row.number)}
          >
            {row.verdict !== "fine" && !row.learnt ? (
              <span>{VERDICTS[row.verdict]}</span>
            ) : (
              row.crossed && <span>{crossedIn(row)}</span>
            )}
          </button>
        ))}
      </div>
      {box ? (
        <BoxSaid card={card} photo={photo} box={box} />
      ) : (
        <p className="hint">
          Pick a box to see what was read.
          {photo.boxes.some((row) => row.crossed) &&
            " Beneath crosses: whether the under-colour shows, and by how many steps of value it makes them lighter or darker."}
        </p>
      )}
    </section>
  );
}

function BoxSaid({ card, photo, box }: { card: TrialCard; photo: CardPhoto; box: Box }) {
  const { refresh } = useEditor();
  const asked = card.boxes[box.number - 1];
  const numbers = (of: (row: Box) => boolean) => photo.boxes.filter(of).map((row) => row.number);
  const left = numbers((row) => row.verdict === "fine" && !row.learnt);
  const taken = numbers((row) => row.verdict !== "fine" && row.learnt);
  const change = useWrite(
    (body: Parameters<typeof server.correctBoxes>[1]) => server.correctBoxes(photo.id, body),
    ["trials"],
    () => void refresh(),
  );
  const liked = numbers((row) => row.liked);
  const like = () =>
    change.mutate({
      left_out: left,
      taken_in: taken,
      liked: box.liked ? liked.filter((number) => number !== box.number) : [...liked, box.number],
    });
  const turn = () => {
    const without = (held: number[]) => held.filter((number) => number !== box.number);
    if (box.verdict === "fine")
      change.mutate({ left_out: box.learnt ? [...left, box.number] : without(left), taken_in: taken });
    else change.mutate({ left_out: left, taken_in: box.learnt ? without(taken) : [...taken, box.number] });
  };
  return (
    <div className="try-box-said">
      <span className="pair" aria-hidden="true">
        <i style={{ background: asked?.foreseen }} />
        <i style={{ background: box.seen.hex }} />
      </span>
      <p>
        <b>Box {box.number}</b> {asked?.lines.join(" ")}: foreseen left, read right, {box.off.toFixed(1)}{" "}
        apart.{" "}
        {box.crossed &&
          `The under-colour: ${box.crossed}, ${Math.abs(box.lighter).toFixed(1)} steps of value ${box.lighter < 0 ? "darker" : "lighter"}. `}
        {box.said}
      </p>
      {box.verdict !== "empty" && (
        <div className="try-deeds">
          {box.other > 0 && (
            <button
              type="button"
              className="btn btn-quiet btn-sm"
              disabled={change.isPending}
              onClick={() =>
                change.mutate({ left_out: left, taken_in: taken, exchange: [box.number, box.other] })
              }
            >
              exchange them
            </button>
          )}
          <button
            type="button"
            className="btn btn-quiet btn-sm"
            aria-pressed={box.liked}
            title="Plans take what lies in it before others that do as well"
            disabled={change.isPending}
            onClick={like}
          >
            {box.liked ? "I like it: no longer" : "I like it"}
          </button>
          <button type="button" className="btn btn-quiet btn-sm" disabled={change.isPending} onClick={turn}>
            {change.isPending ? "one moment …" : box.learnt ? "do not use it" : "use it"}
          </button>
        </div>
      )}
      {change.error && (
        <p className="problem" role="alert">
          {problemOf(change.error, "What was learnt before is kept.")}
        </p>
      )}
    </div>
  );
}

function Boxes({ card }: { card: TrialCard }) {
  return (
    <section className="try-card" aria-label={`Card ${card.number}`}>
      <ol className="try-boxes">
        {card.boxes.map((box) => (
          <li key={box.number}>
            <span className="frame" />
            <i style={{ background: box.foreseen }} aria-hidden="true" />
            <span className="hint">
              {box.number} {box.says}
            </span>
            {box.lines.map((line) => (
              <b key={line}>{line}</b>
            ))}
          </li>
        ))}
      </ol>
    </section>
  );
}
