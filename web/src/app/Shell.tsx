import { lazy, type ReactNode, Suspense, useState } from "react";
import { Button } from "react-bootstrap";
import { NavLink } from "react-router";
import { useKeys } from "../ui/keys";
import { useSurround } from "./surround";
import { focusMain, usePlace } from "./usePlace";

// A menu is fetched when it is first asked for.
const ArtistMenu = lazy(() => import("./ArtistMenu").then((held) => ({ default: held.ArtistMenu })));

type Props = { artist: string; title: string; middle?: ReactNode; right?: ReactNode; children: ReactNode };

/** The bar at the top, and the surround below it. */
export function Shell({ artist, title, middle, right, children }: Props) {
  const [surround, nextSurround] = useSurround();
  const [asked, setAsked] = useState(false);
  usePlace(title);
  useKeys([{ key: "g", does: "Change the surround: mid, light, dark", run: nextSurround }]);
  return (
    <div className="shell">
      <header className="bar">
        <button type="button" className="skip" onClick={() => focusMain()}>
          Go to the page
        </button>
        <NavLink to="/" className="wordmark">
          Caltin
        </NavLink>
        {middle ?? (
          <nav className="places" aria-label="Places">
            <NavLink to="/" end>
              Pieces
            </NavLink>
            <NavLink to="/tray">Tray</NavLink>
            <NavLink to="/complexions">Complexions</NavLink>
            <NavLink to="/notebook">Notebook</NavLink>
            <NavLink to="/practice">Practice</NavLink>
          </nav>
        )}
        <span className="bar-gap" />
        {right}
        {asked ? (
          <Suspense fallback={<Button variant="quiet">{artist}</Button>}>
            <ArtistMenu artist={artist} surround={surround} onSurround={nextSurround} />
          </Suspense>
        ) : (
          <Button
            variant="quiet"
            className="dropdown-toggle"
            aria-haspopup="menu"
            onClick={() => setAsked(true)}
          >
            {artist}
          </Button>
        )}
      </header>
      {children}
    </div>
  );
}
