import { Button } from "react-bootstrap";
import type { Figure, Schemas } from "../../api/client";
import { useEditing, useEditor, usePiece } from "../../document/useEditor";

const TELLS = 0.4;

type Props = { figure: Figure; said: Schemas["FigureAsItIs"]; plans: Schemas["SaidPlans"] | undefined };

/** What planning anew would bring, where the set-up, the tray or a hand has changed since: nothing if that is little. */
export function StaleOffer({ figure, said, plans }: Props) {
  const { layers } = usePiece().document;
  const { plan } = useEditor();
  const busy = useEditing((state) => state.busy);
  const count = said.layers.length;
  const anew = plans?.plans.reduce((held, row) =>
    Math.abs(row.layers.length - count) < Math.abs(held.layers.length - count) ? row : held,
  );
  if (said.trouble)
    return (
      <p className="problem" role="alert">
        {said.trouble}{" "}
        {plans && (
          <Button variant="quiet" size="sm" disabled={busy} onClick={() => plan([figure.id], 0)}>
            plan anew
          </Button>
        )}
      </p>
    );
  if (!anew || !said.planned || layers.length === 0) return null;
  const nearer = said.planned.expected.by_hand - anew.expected.by_hand;
  if (nearer < TELLS && said.keeps_the_rules) return null;
  const would =
    anew.words.by_hand === said.planned.words.by_hand
      ? nearer >= TELLS
        ? "would come nearer"
        : "would keep them"
      : `would be ${anew.words.by_hand}`;
  return (
    <p className="stale" role="note">
      {said.keeps_the_rules ? (
        <>
          As things are now this plan is <b>{said.planned.words.by_hand}</b>; a new one {would}:
        </>
      ) : (
        <>Not all of this is as the method wants it; a new plan {would}:</>
      )}{" "}
      <Button variant="quiet" size="sm" disabled={busy} onClick={() => plan([figure.id], count)}>
        plan anew
      </Button>{" "}
      or keep it.
    </p>
  );
}
