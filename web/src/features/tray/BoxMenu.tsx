import { useState } from "react";
import { Button, Dropdown, Form, Modal } from "react-bootstrap";
import { type Tray, trayFileUrl } from "../../api/client";
import { trayBundleUrl } from "../../api/files";
import { Confirm } from "../../ui/Confirm";
import type { Box } from "./useBox";

type Props = {
  tray: Tray;
  box: Box;
  marking: boolean;
  onMark: () => void;
  onMarkAll: () => void;
  onNew: () => void;
  onLesson: () => void;
  onDelete: () => void;
};

const FILES = [
  ["json", "JSON"],
  ["xlsx", "a spreadsheet (XLSX)"],
  ["ods", "a spreadsheet (ODS)"],
  ["gpl", "a palette"],
  ["txt", "CGATS text"],
  ["cxf", "CxF"],
] as const;

/** What is done to a box as a whole. */
export function BoxMenu({ tray, box, marking, onMark, onMarkAll, onNew, onLesson, onDelete }: Props) {
  const [leaving, setLeaving] = useState(false);
  const [naming, setNaming] = useState(false);
  return (
    <>
      <Button variant={marking ? "chosen" : "quiet"} size="sm" aria-pressed={marking} onClick={onMark}>
        mark several
      </Button>
      <Dropdown>
        <Dropdown.Toggle variant="quiet" size="sm">
          the box
        </Dropdown.Toggle>
        <Dropdown.Menu>
          <Dropdown.Item as="button" onClick={() => setNaming(true)}>
            Its name, its rows
          </Dropdown.Item>
          <Dropdown.Item as="button" onClick={onMarkAll}>
            Mark all: copy, split, join
          </Dropdown.Item>
          <Dropdown.Item as="button" onClick={onLesson}>
            The lesson says … my own for each
          </Dropdown.Item>
          <Dropdown.Item href={trayFileUrl(tray.id, "csv")} download>
            Take along as CSV
          </Dropdown.Item>
          {FILES.map(([kind, said]) => (
            <Dropdown.Item key={kind} href={trayFileUrl(tray.id, kind)} download>
              Take along as {said}
            </Dropdown.Item>
          ))}
          <Dropdown.Item href={trayBundleUrl(tray.id)} download>
            Take along with its trial cards
          </Dropdown.Item>
          <Dropdown.Item as="button" onClick={onNew}>
            Begin another box
          </Dropdown.Item>
          <Dropdown.Item as="button" onClick={() => setLeaving(true)}>
            Remove this box
          </Dropdown.Item>
        </Dropdown.Menu>
      </Dropdown>
      <NameAndRows
        key={`${tray.name} ${tray.per_row}`}
        show={naming}
        tray={tray}
        box={box}
        onClose={() => setNaming(false)}
      />
      <Confirm
        show={leaving}
        title={`Remove the box “${tray.name}”?`}
        text="Pieces that use it keep their recipes, but cannot be mixed anew until another tray is chosen. For 30 days it can be put back, at the foot of this page, with its trial cards."
        action="Remove the box"
        onConfirm={onDelete}
        onCancel={() => setLeaving(false)}
      />
    </>
  );
}

function NameAndRows({
  show,
  tray,
  box,
  onClose,
}: {
  show: boolean;
  tray: Tray;
  box: Box;
  onClose: () => void;
}) {
  const [name, setName] = useState(tray.name);
  const [perRow, setPerRow] = useState(String(tray.per_row || ""));
  const send = (event: React.FormEvent) => {
    event.preventDefault();
    onClose();
    box.tidy({ name: name.trim(), per_row: Number(perRow) || 0 });
  };
  return (
    <Modal show={show} onHide={onClose} centered aria-labelledby="box-title">
      <Form onSubmit={send}>
        <Modal.Body>
          <h2 id="box-title" className="h4">
            The box
          </h2>
          <Form.Group controlId="box-named">
            <Form.Label>Name</Form.Label>
            <Form.Control
              autoFocus
              maxLength={80}
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
          </Form.Group>
          <Form.Group controlId="box-rows">
            <Form.Label>How many lie in a row (nothing if they do not lie in rows)</Form.Label>
            <Form.Control
              type="number"
              min={0}
              max={60}
              value={perRow}
              onChange={(event) => setPerRow(event.target.value)}
            />
          </Form.Group>
          <div className="dialog-actions">
            <Button variant="quiet" onClick={onClose}>
              Not now
            </Button>
            <Button variant="act" type="submit" disabled={!name.trim() || Number(perRow) > 60}>
              Keep this
            </Button>
          </div>
        </Modal.Body>
      </Form>
    </Modal>
  );
}
