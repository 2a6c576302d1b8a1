import { Dropdown } from "react-bootstrap";
import { Link } from "react-router";
import { server } from "../api/client";
import { useKeysDialog } from "../ui/keys";

type Props = { artist: string; surround: string; onSurround: () => void };

/** What belongs to the artist; open as soon as it is there. */
export function ArtistMenu({ artist, surround, onSurround }: Props) {
  const showKeys = useKeysDialog();
  return (
    <Dropdown align="end" defaultShow>
      <Dropdown.Toggle variant="quiet" autoFocus>
        {artist}
      </Dropdown.Toggle>
      <Dropdown.Menu>
        <Dropdown.Item as="button" onClick={onSurround} title="g">
          Surround: {surround}
        </Dropdown.Item>
        <Dropdown.Item as="button" onClick={showKeys} title="?">
          Keys
        </Dropdown.Item>
        <Dropdown.Item as={Link} to="/account">
          Your account
        </Dropdown.Item>
        <Dropdown.Item onClick={() => void server.signOut().then(() => window.location.assign("/sign-in"))}>
          Sign out
        </Dropdown.Item>
      </Dropdown.Menu>
    </Dropdown>
  );
}
