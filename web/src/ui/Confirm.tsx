import { useId } from "react";
import { Button, Modal } from "react-bootstrap";

type Props = {
  show: boolean;
  title: string;
  text: string;
  action: string;
  onConfirm: () => void;
  onCancel: () => void;
};

/** Asks before something is gone for good. */
export function Confirm({ show, title, text, action, onConfirm, onCancel }: Props) {
  const id = useId();
  return (
    <Modal show={show} onHide={onCancel} centered aria-labelledby={id}>
      <Modal.Body>
        <h2 id={id} className="h4">
          {title}
        </h2>
        <p>{text}</p>
        <div className="dialog-actions">
          <Button variant="quiet" onClick={onCancel}>
            Keep it
          </Button>
          <Button variant="act" onClick={onConfirm}>
            {action}
          </Button>
        </div>
      </Modal.Body>
    </Modal>
  );
}
