import { useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { Button, Dropdown, Form, Modal } from "react-bootstrap";
import { NavLink } from "react-router";
import { Refusal, server } from "../api/client";
import { useKeys } from "../ui/keys";
import { useRoom } from "./room";

type Props = { artist: string; middle?: ReactNode; right?: ReactNode; children: ReactNode };

/** The bar at the top, and the room below it. */
export function Shell({ artist, middle, right, children }: Props) {
  const [room, nextRoom] = useRoom();
  const [password, setPassword] = useState(false);
  useKeys([{ key: "g", does: "Change the surround: mid, light, dark", run: nextRoom }]);
  return (
    <div className="shell">
      <header className="bar">
        <NavLink to="/" className="wordmark">
          Caltin
        </NavLink>
        {middle ?? (
          <nav className="places" aria-label="Places">
            <NavLink to="/" end>
              Pieces
            </NavLink>
            <NavLink to="/tray">Tray</NavLink>
          </nav>
        )}
        <span className="bar-gap" />
        {right}
        <Button variant="quiet" onClick={nextRoom} title="Change the surround (g)">
          Surround: {room}
        </Button>
        <Dropdown align="end">
          <Dropdown.Toggle variant="quiet">{artist}</Dropdown.Toggle>
          <Dropdown.Menu>
            <Dropdown.Item onClick={() => setPassword(true)}>Set a password</Dropdown.Item>
            <Dropdown.Item
              onClick={() => void server.signOut().then(() => window.location.assign("/sign-in"))}
            >
              Sign out
            </Dropdown.Item>
          </Dropdown.Menu>
        </Dropdown>
      </header>
      {children}
      <PasswordDialog open={password} close={() => setPassword(false)} />
    </div>
  );
}

function PasswordDialog({ open, close }: { open: boolean; close: () => void }) {
  const [text, setText] = useState("");
  const [problem, setProblem] = useState("");
  const queries = useQueryClient();
  const send = async (event: React.FormEvent) => {
    event.preventDefault();
    try {
      await server.setPassword(text);
      await queries.invalidateQueries({ queryKey: ["session"] });
      setText("");
      setProblem("");
      close();
    } catch (error) {
      setProblem(error instanceof Refusal ? error.message : String(error));
    }
  };
  return (
    <Modal show={open} onHide={close} centered aria-labelledby="password-title">
      <Form onSubmit={send}>
        <Modal.Body>
          <h2 id="password-title" className="h4">
            Set a password
          </h2>
          <Form.Group controlId="new-password">
            <Form.Label>New password, at least 8 characters</Form.Label>
            <Form.Control
              type="password"
              autoComplete="new-password"
              value={text}
              onChange={(event) => setText(event.target.value)}
            />
          </Form.Group>
          {problem && (
            <p className="problem" role="alert">
              {problem}
            </p>
          )}
          <div className="dialog-actions">
            <Button variant="quiet" onClick={close}>
              Not now
            </Button>
            <Button variant="act" type="submit" disabled={!text}>
              Set it
            </Button>
          </div>
        </Modal.Body>
      </Form>
    </Modal>
  );
}
