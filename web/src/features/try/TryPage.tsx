import { useState } from "react";
import { server, type TrialCard, type Trials } from "../../api/client";
import { problemOf, useWrite } from "../../api/mutations";
import { useTrials } from "../../api/queries";
import { useEditor, usePiece } from "../../document/useEditor";
import { Confirm } from "../../ui/Confirm";
import { EmptyPage } from "../../ui/EmptyPage";
import { Failed } from "../../ui/Failed";
import { CardBoxes } from "./CardBoxes";
import { FillCard } from "./FillCard";
import { NewCard } from "./NewCard";
import { ReadCard } from "./ReadCard";
import { Taught } from "./Taught";
import "./try.css";

/** The third step: a card on the very paper of the piece, so that its colours become true. */
export function TryPage() {
  const piece = usePiece();
  const trials = useTrials(piece.id, piece.document.tray !== null);
  if (piece.document.tray === null) {
    return (
      <EmptyPage
        title="What do you draw with?"
        text="A card is made of what you own, for the paper that you draw on. Say in Mix what that is."
        to={`/pieces/${piece.id}/mix`}
        deed="Go to Mix"
      />
    );
  }
  if (trials.error) return <Failed error={trials.error} onAgain={() => void trials.refetch()} />;
  if (!trials.data) return <main className="wait">Looking for your cards …</main>;
  return <Cards key={piece.id} piece={piece.id} trials={trials.data} />;
}

function Cards({ piece, trials }: { piece: string; trials: Trials }) {
  const { refresh } = useEditor();
  const [picked, setPicked] = useState<string | null>(null);
  const [making, setMaking] = useState(false);
  const [filling, setFilling] = useState(false);
  const card = making ? undefined : (trials.cards.find((row) => row.id === picked) ?? trials.cards[0]);
  const photo = card?.photos.at(-1);
  const leave = useWrite(server.deleteCard, ["trials"], () => void refresh());
  if (card && filling) return <FillCard card={card} trials={trials} onDone={() => setFilling(false)} />;
  return (
    <main className="try">
      <section className="try-cards" aria-label="Your cards" hidden={trials.cards.length === 0}>
        <h2>Cards</h2>
        <ul>
          {trials.cards.map((row) => (
            <li key={row.id}>
              <button
                type="button"
                className="pick"
                aria-current={row === card}
                onClick={() => {
                  setPicked(row.id);
                  setMaking(false);
                }}
              >
                <b>{row.number}</b> {row.name}
                <span className="hint">
                  {row.boxes.length} boxes, {row.photos.length > 0 ? "read" : "not read yet"}
                </span>
              </button>
            </li>
          ))}
        </ul>
        {card && (
          <button type="button" className="btn btn-quiet" onClick={() => setMaking(true)}>
            another card
          </button>
        )}
      </section>
      {card ? (
        <>
          <CardBoxes key={photo?.id ?? card.id} card={card} photo={photo} />
          <section className="try-said" aria-label="What it says">
            <ReadCard card={card} photo={photo} onFill={() => setFilling(true)} />
            <Taught trials={trials} piece={piece} />
            <Away card={card} waiting={leave.isPending} onAway={() => leave.mutate(card.id)} />
            {leave.error && (
              <p className="problem" role="alert">
                {problemOf(leave.error)}
              </p>
            )}
          </section>
        </>
      ) : (
        <NewCard
          piece={piece}
          trials={trials}
          onMade={(made) => {
            setPicked(made);
            setMaking(false);
          }}
        />
      )}
    </main>
  );
}

function Away({ card, waiting, onAway }: { card: TrialCard; waiting: boolean; onAway: () => void }) {
  const [asking, setAsking] = useState(false);
  const read = card.photos.length > 0;
  return (
    <>
      <button
        type="button"
        className="btn btn-quiet btn-sm try-away"
        disabled={waiting}
        onClick={() => (read ? setAsking(true) : onAway())}
      >
        {read ? "put this card aside, with what it taught" : "put this card aside"}
      </button>
      <Confirm
        show={asking}
        title={`Put card ${card.number} aside?`}
        text="What was read from it goes with it, and plans are foreseen without it. The paper card can be photographed again only for as long as it is here."
        action="Put it aside"
        onConfirm={() => {
          setAsking(false);
          onAway();
        }}
        onCancel={() => setAsking(false)}
      />
    </>
  );
}
