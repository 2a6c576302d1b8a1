import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useLimits } from "../../api/queries";
import { useEditor, usePiece } from "../../document/useEditor";

type Props = { layer: string; stick: string; onClose: () => void };

/** Notes on the layer, on its stick, on the piece and for next time: each kept as it is left. */
export function Notes({ layer, stick, onClose }: Props) {
  return (
    <section
      className="over-screen notes"
      aria-label="Notes"
      onKeyDown={(event) => event.key === "Escape" && onClose()}
    >
      <header>
        <h3 className="h4">Notes</h3>
        <Button variant="act" size="sm" onClick={onClose}>
          done
        </Button>
      </header>
      <Note id={layer} label="On this layer" focus />
      <Note id={`stick-${plain(stick)}`} label={`On ${stick}`} />
      <Note id="piece" label="On this piece" />
      <Note id="next-time" label="Next time" />
    </section>
  );
}

const plain = (code: string) => code.replace(/[^A-Za-z0-9-]/g, "-").slice(0, 30);

function Note({ id, label, focus }: { id: string; label: string; focus?: boolean }) {
  const piece = usePiece();
  const { note } = useEditor();
  const limits = useLimits();
  const held = piece.work.notes[id] ?? "";
  const [text, setText] = useState<string | null>(null);
  const keep = () => {
    if (text !== null && text !== held) note({ [id]: { note: text } });
    setText(null);
  };
  return (
    <Form.Group controlId={`note-${id}`}>
      <Form.Label>{label}</Form.Label>
      <Form.Control
        as="textarea"
        rows={2}
        autoFocus={focus}
        maxLength={limits.note}
        value={text ?? held}
        onChange={(event) => setText(event.target.value)}
        onBlur={keep}
      />
    </Form.Group>
  );
}
