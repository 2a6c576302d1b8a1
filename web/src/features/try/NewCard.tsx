import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { server, type Trials } from "../../api/client";
import { problemOf, useWrite } from "../../api/mutations";
import { usePiece } from "../../document/useEditor";
import { Segments } from "../../ui/Segments";
import { useNoun } from "../../ui/useNoun";

const MINUTES: Record<number, string> = { 12: "ten minutes", 48: "half an hour", 96: "an hour" };

type Props = { piece: string; trials: Trials; onMade: (card: string) => void };

/** Which card, how large, on which sheet. */
export function NewCard({ piece, trials, onMade }: Props) {
  const [kind, setKind] = useState(trials.kinds[0]?.id ?? "");
  const [boxes, setBoxes] = useState(trials.counts[0] ?? 12);
  const [size, setSize] = useState("A5");
  const noun = useNoun([], usePiece().document.setup.medium);
  const make = useWrite(
    () => server.makeCard(piece, { kind, size, boxes }),
    ["trials"],
    (card) => onMade(card.id),
  );
  return (
    <section className="try-new" aria-label="A new card">
      <h1>{trials.learnt ? "Try some more" : "Make your colours true"}</h1>
      <p>
        {trials.learnt
          ? `What is planned is off by about ${trials.doubt.toFixed(1)} now, on ${trials.paper}.`
          : `Nobody has tried these ${noun}s on ${trials.paper} yet, so a mixed colour may be off by ${trials.untried.toFixed(0)}: clearly, to an eye. A card of a few boxes, filled by your hand and photographed, tells what they really give.`}
      </p>
      <fieldset className="try-kinds">
        <legend>Which card</legend>
        {trials.kinds.map((row) => (
          <Form.Check
            key={row.id}
            type="radio"
            name="kind"
            id={`kind-${row.id}`}
            checked={kind === row.id}
            onChange={() => setKind(row.id)}
            label={
              <>
                <b>{row.name}</b> <span className="hint">{row.says}</span>
              </>
            }
          />
        ))}
      </fieldset>
      <div className="try-choices">
        <Segments
          label="How many boxes"
          choices={trials.counts}
          chosen={boxes}
          onChoose={setBoxes}
          say={(count) => `${count} boxes`}
          hint={(count) => MINUTES[count]}
        />
        <Segments label="Size of the paper" choices={trials.sizes} chosen={size} onChoose={setSize} />
      </div>
      <p className="hint">
        {boxes} boxes are {MINUTES[boxes] ?? "a while"} of work. {trials.caution}
      </p>
      <Button variant="act" disabled={make.isPending || !kind} onClick={() => make.mutate(undefined)}>
        {make.isPending ? "Choosing the boxes …" : "Make the card"}
      </Button>
      {make.error && (
        <p className="problem" role="alert">
          {problemOf(make.error)}
        </p>
      )}
    </section>
  );
}
