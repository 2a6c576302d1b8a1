import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { type SignedIn, server } from "../../api/client";
import { exportUrl, referenceUrl } from "../../api/files";
import { problemOf, useWrite } from "../../api/mutations";
import { TakeIn } from "../../ui/TakeIn";
import "./account.css";

/** Everything about the artist's account: space, where it is open, password, taking all away, and its end. */
export function AccountPage({ artist }: { artist: string }) {
  return (
    <main className="page">
      <div className="page-head">
        <h1>Your account</h1>
        <span>Only you see what is in it.</span>
      </div>
      <div className="account-parts">
        <Space />
        <Sessions />
        <Password />
        <Farewell artist={artist} />
      </div>
    </main>
  );
}

function Problem({ error }: { error: Error | null }) {
  const text = problemOf(error, "");
  return text ? (
    <p className="problem" role="alert">
      {text}
    </p>
  ) : null;
}

function size(bytes: number): string {
  const [unit, name] = bytes < 2 ** 30 ? [2 ** 20, "MB"] : [2 ** 30, "GB"];
  const held = bytes / unit;
  return `${held.toLocaleString("en", { maximumFractionDigits: held < 10 ? 1 : 0 })} ${name}`;
}

function Space() {
  const space = useQuery({ queryKey: ["space"], queryFn: server.space });
  return (
    <section aria-labelledby="space">
      <h2 id="space">Pictures and space</h2>
      <Problem error={space.error} />
      {space.data && (
        <>
          <p className="numbers">
            {space.data.pictures === 1 ? "One picture" : `${space.data.pictures} pictures`},{" "}
            {size(space.data.used)} of {size(space.data.most)}
          </p>
          <meter
            aria-label="Space used"
            min={0}
            max={space.data.most}
            value={space.data.used}
            title={size(space.data.used)}
          />
          <p>A picture that no piece needs any more is deleted after three days.</p>
        </>
      )}
      <p>
        All your pieces with every step, your trays, papers, cards, complexions, practice and pictures, as one
        zip file. It can be taken in again, here or elsewhere: that only adds to what is there.
      </p>
      <div className="account-files">
        <a className="btn btn-quiet" href={exportUrl} download>
          Take everything with you
        </a>
        <TakeIn says="Take a file in" />
      </div>
      <p>
        For scripts: <a href={referenceUrl}>everything that can be asked for</a>.
      </p>
    </section>
  );
}

function since(row: SignedIn): string {
  const began = row.began
    ? new Date(row.began).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" })
    : "some time ago";
  return `since ${began}`;
}

function Sessions() {
  const sessions = useQuery({ queryKey: ["sessions"], queryFn: server.sessions });
  const end = useWrite(server.endSession, ["sessions"]);
  return (
    <section aria-labelledby="sessions">
      <h2 id="sessions">Where you are signed in</h2>
      <Problem error={sessions.error ?? end.error} />
      <ul className="session-list">
        {sessions.data
          ?.toSorted((a, b) => Number(b.here) - Number(a.here))
          .map((row) => (
            <li key={row.id}>
              <span>
                <strong>{row.here ? "This browser" : "Another browser"}</strong>
                {row.device && `, ${row.device}`}
              </span>
              <span className="numbers">{since(row)}</span>
              {!row.here && (
                <Button
                  variant="quiet"
                  disabled={end.isPending}
                  onClick={() => end.mutate(row.id)}
                  aria-label={`Sign out there, ${since(row)}`}
                >
                  Sign out there
                </Button>
              )}
            </li>
          ))}
      </ul>
    </section>
  );
}

function Password() {
  const [text, setText] = useState("");
  const set = useWrite(server.setPassword, ["sessions"], () => setText(""));
  const send = (event: FormEvent) => {
    event.preventDefault();
    set.mutate(text);
  };
  return (
    <section aria-labelledby="password">
      <h2 id="password">Password</h2>
      <p>With a password you sign in without a link. Setting one signs you out everywhere else.</p>
      <Form onSubmit={send} className="one-line">
        <Form.Group controlId="new-password">
          <Form.Label>New password, at least 8 characters</Form.Label>
          <Form.Control
            type="password"
            autoComplete="new-password"
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        </Form.Group>
        <Button variant="act" type="submit" disabled={!text || set.isPending}>
          Set it
        </Button>
      </Form>
      {set.isSuccess && !text && <p role="status">The password is set.</p>}
      <Problem error={set.error} />
    </section>
  );
}

function Farewell({ artist }: { artist: string }) {
  const [name, setName] = useState("");
  const end = useWrite(server.deleteAccount, [], () => window.location.assign("/sign-in"));
  const send = (event: FormEvent) => {
    event.preventDefault();
    end.mutate(name);
  };
  return (
    <section aria-labelledby="farewell">
      <h2 id="farewell">Remove this account</h2>
      <p>
        Pieces, trays, papers and pictures go with it, at once and for good. Take everything with you first.
      </p>
      <Form onSubmit={send} className="one-line">
        <Form.Group controlId="account-name">
          <Form.Label>Type “{artist}” to show that you mean it</Form.Label>
          <Form.Control autoComplete="off" value={name} onChange={(event) => setName(event.target.value)} />
        </Form.Group>
        <Button variant="quiet" type="submit" disabled={name !== artist || end.isPending}>
          Remove for good
        </Button>
      </Form>
      <Problem error={end.error} />
    </section>
  );
}
