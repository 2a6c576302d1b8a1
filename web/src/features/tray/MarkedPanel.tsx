import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { Schemas, Tray } from "../../api/client";
import { CONDITIONS } from "../../ui/stickWords";
import type { Box } from "./useBox";

type Props = {
  tray: Tray;
  others: Schemas["TrayRow"][];
  codes: string[];
  box: Box;
  onNone: () => void;
};

/** What is done to several sticks at once. */
export function MarkedPanel({ tray, others, codes, box, onNone }: Props) {
  const [to, setTo] = useState("");
  const [name, setName] = useState("Another box");
  const [keep, setKeep] = useState(false);
  const bring = (event: React.FormEvent) => {
    event.preventDefault();
    box.move({ codes, to: to || null, name, keep }, { onSuccess: onNone });
  };
  return (
    <section className="stick-panel" aria-label="What is marked">
      <h2>{codes.length} marked</h2>
      <p className="hint">
        {codes.slice(0, 24).join(", ")}
        {codes.length > 24 && ` and ${codes.length - 24} more`}
      </p>
      <h3>They are</h3>
      <p className="feels">
        {Object.entries(CONDITIONS).map(([condition, words]) => (
          <Button key={condition} variant="quiet" size="sm" onClick={() => box.change(codes, { condition })}>
            {words}
          </Button>
        ))}
      </p>
      <Form onSubmit={bring} className="bring" aria-label="Bring them into another box">
        <h3>Bring them into</h3>
        <Form.Select
          size="sm"
          aria-label="Which box"
          value={to}
          onChange={(event) => setTo(event.target.value)}
        >
          <option value="">a new box</option>
          {others
            .filter((row) => row.id !== tray.id)
            .map((row) => (
              <option key={row.id} value={row.id}>
                {row.name} ({row.size})
              </option>
            ))}
        </Form.Select>
        {to === "" && (
          <Form.Control
            size="sm"
            aria-label="Name of the new box"
            maxLength={80}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        )}
        <Form.Check
          id="keep-here"
          label="and leave them here as well"
          checked={keep}
          onChange={(event) => setKeep(event.target.checked)}
        />
        <Button variant="act" size="sm" type="submit" disabled={box.busy || (to === "" && !name.trim())}>
          {keep ? "Copy them" : "Move them"}
        </Button>
      </Form>
      <Button
        variant="quiet"
        size="sm"
        onClick={() => {
          box.takeAway(codes);
          onNone();
        }}
      >
        remove them from the box
      </Button>
      <Button variant="quiet" size="sm" onClick={onNone}>
        mark none
      </Button>
    </section>
  );
}
