import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form, Modal } from "react-bootstrap";
import { type SharedLink, shares } from "../api/files";
import { problemOf, useWrite } from "../api/mutations";
import { Segments } from "./Segments";

const DAYS = [1, 7, 30, 365] as const;
const SAID: Record<number, string> = { 1: "a day", 7: "a week", 30: "a month", 365: "a year" };

type Props = { piece: string; onClose: () => void };

/** Links to the plan for others: made, copied, taken back. */
export function ShareLinks({ piece, onClose }: Props) {
  const [days, setDays] = useState<(typeof DAYS)[number]>(30);
  const [reference, setReference] = useState(false);
  const held = useQuery({ queryKey: ["shares", piece], queryFn: () => shares.of(piece) });
  const make = useWrite(() => shares.make(piece, { days, reference }), ["shares"]);
  const back = useWrite(shares.takeBack, ["shares"]);
  const problem = problemOf(held.error ?? make.error ?? back.error, "Nothing was changed.");
  return (
    <Modal show onHide={onClose} centered aria-labelledby="share-title">
      <Modal.Body className="share">
        <h2 id="share-title" className="h4">
          Show the plan to somebody
        </h2>
        <p>
          Whoever has the link sees the layers, colours and maps as they are now, and nothing else: no notes,
          no other piece, nothing that you change later.
        </p>
        <Segments
          label="How long the link works"
          choices={DAYS}
          chosen={days}
          onChoose={setDays}
          say={(one) => SAID[one]}
        />
        <Form.Check
          id="share-reference"
          label="with the reference and what it becomes"
          checked={reference}
          onChange={(event) => setReference(event.target.checked)}
        />
        {problem && (
          <p className="problem" role="alert">
            {problem}
          </p>
        )}
        {held.data && held.data.length > 0 && (
          <ul className="share-links" aria-label="Links to this plan">
            {held.data.map((row) => (
              <OneLink key={row.id} row={row} onBack={() => back.mutate(row.id)} />
            ))}
          </ul>
        )}
        <div className="dialog-actions">
          <Button variant="quiet" onClick={onClose}>
            Close
          </Button>
          <Button variant="act" disabled={make.isPending} onClick={() => make.mutate(undefined)}>
            {make.isPending ? "Drawing its maps …" : "Make a link"}
          </Button>
        </div>
      </Modal.Body>
    </Modal>
  );
}

function OneLink({ row, onBack }: { row: SharedLink; onBack: () => void }) {
  const [copied, setCopied] = useState(false);
  const address = row.path && `${window.location.origin}${row.path}`;
  const until = new Date(row.expires).toLocaleDateString("en-GB", { dateStyle: "medium" });
  const what = row.reference ? "with the reference" : "without the reference";
  return (
    <li>
      {address ? (
        <Form.Control
          readOnly
          size="sm"
          aria-label={`Link that works until ${until}, ${what}`}
          value={address}
          onFocus={(event) => event.target.select()}
        />
      ) : (
        <span>This link can be shown no more.</span>
      )}
      <span className="hint">
        until {until}, {what}
      </span>
      {address && (
        <>
          <Button
            variant="quiet"
            size="sm"
            onClick={() => void navigator.clipboard.writeText(address).then(() => setCopied(true))}
          >
            {copied ? "copied" : "copy"}
          </Button>
          <a className="btn btn-quiet btn-sm" href={address} target="_blank" rel="noreferrer">
            look at it
          </a>
        </>
      )}
      <Button variant="quiet" size="sm" onClick={onBack} aria-label={`take back the link until ${until}`}>
        take back
      </Button>
    </li>
  );
}
