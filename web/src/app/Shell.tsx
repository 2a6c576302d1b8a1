import type { ReactNode } from "react";
import { Dropdown } from "react-bootstrap";
import { Link, NavLink } from "react-router";
import { server } from "../api/client";
import { useKeys } from "../ui/keys";
import { useSurround } from "./surround";

type Props = { artist: string; middle?: ReactNode; right?: ReactNode; children: ReactNode };

/** The bar at the top, and the surround below it. */
export function Shell({ artist, middle, right, children }: Props) {
  const [surround, nextSurround] = useSurround();
  useKeys([{ key: "g", does: "Change the surround: mid, light, dark", run: nextSurround }]);
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
        <Dropdown align="end">
          <Dropdown.Toggle variant="quiet">{artist}</Dropdown.Toggle>
          <Dropdown.Menu>
            <Dropdown.Item as="button" onClick={nextSurround} title="g">
              Surround: {surround}
            </Dropdown.Item>
            <Dropdown.Item as={Link} to="/account">
              Your account
            </Dropdown.Item>
            <Dropdown.Item
              onClick={() => void server.signOut().then(() => window.location.assign("/sign-in"))}
            >
              Sign out
            </Dropdown.Item>
          </Dropdown.Menu>
        </Dropdown>
      </header>
      {children}
    </div>
  );
}
