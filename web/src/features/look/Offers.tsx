import { Button } from "react-bootstrap";
import type { Offer, Study } from "../../api/client";
import { usePiece } from "../../document/useEditor";

const KINDS: Record<Offer["kind"], string> = {
  "eye white": "An eye white",
  white: "Something white",
  grey: "Something grey",
};

/** What the picture offers to balance on, and what each would make of the people, before it is taken. */
export function Offers({ study, onTake }: { study: Study; onTake: (offer: Offer) => void }) {
  const { figures } = usePiece().document;
  return (
    <ul className="offers" aria-label="Could be balanced on">
      {study.offers.map((offer) => (
        <li key={`${offer.on.x} ${offer.on.y}`}>
          <span className="stick-dot" style={{ background: offer.seen.hex }} />
          <span>
            <b>{KINDS[offer.kind]}</b>
            {offer.sure ? ": another place agrees" : ": unsure, on its own"}
          </span>
          <Button variant="quiet" size="sm" onClick={() => onTake(offer)}>
            Balance on it
          </Button>
          {offer.effects.map((effect) => {
            const name = figures.find((row) => row.id === effect.figure)?.name ?? "";
            return (
              effect.skin && (
                <span key={effect.figure} className="hint effect">
                  {figures.length > 1 && `${name}: `}
                  {effect.seen && (
                    <span
                      className="stick-dot"
                      style={{ background: effect.seen.hex }}
                      title="as photographed"
                    />
                  )}{" "}
                  → <span className="stick-dot" style={{ background: effect.skin.hex }} title="balanced" />{" "}
                  {effect.complexion
                    ? `${effect.complexion.depth}, ${effect.complexion.undertone}`
                    : effect.untold.split(":")[0]}
                </span>
              )
            );
          })}
        </li>
      ))}
    </ul>
  );
}
