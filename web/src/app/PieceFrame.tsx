import { useMutation, useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useEffect, useState } from "react";
import { Button, Form, Modal } from "react-bootstrap";
import { Navigate, NavLink, useNavigate, useParams } from "react-router";
import { hasFailed, type Piece, server } from "../api/client";
import { problemOf } from "../api/mutations";
import { useLimits, useMaterials } from "../api/queries";
import { Drafts, thisTab } from "../document/drafts";
import { differences } from "../document/parts";
import type { Status } from "../document/state";
import {
  type Loaded,
  PieceProvider,
  savesDone,
  useEditing,
  useEditor,
  usePiece,
} from "../document/useEditor";
import { EmptyPage } from "../ui/EmptyPage";
import { Failed } from "../ui/Failed";
import { useKeys } from "../ui/keys";
import { LightArrow } from "../ui/LightArrow";
import { Shell } from "./Shell";
import { usePlace } from "./usePlace";

const LookPage = lazy(() => import("../features/look/LookPage").then((held) => ({ default: held.LookPage })));
const MixPage = lazy(() => import("../features/mix/MixPage").then((held) => ({ default: held.MixPage })));
const TryPage = lazy(() => import("../features/try/TryPage").then((held) => ({ default: held.TryPage })));
const WorkPage = lazy(() => import("../features/work/WorkPage").then((held) => ({ default: held.WorkPage })));

const ComparePage = lazy(() =>
  import("../features/compare/ComparePage").then((held) => ({ default: held.ComparePage })),
);

const AroundPage = lazy(() =>
  import("../features/around/AroundPage").then((held) => ({ default: held.AroundPage })),
);

const STEPS = [
  { path: "look", name: "Look", key: "l", page: LookPage },
  { path: "mix", name: "Mix", key: "m", page: MixPage },
  { path: "try", name: "Try", key: "f", page: TryPage },
  { path: "work", name: "Work", key: "w", page: WorkPage },
  { path: "compare", name: "Compare", key: "=", page: ComparePage },
] as const;
/** Pages of a piece that belong to one of its steps. */
const BESIDE = [{ path: "around", page: AroundPage }] as const;

const SAID_FOR_MS = 10_000;

const SAID: Record<Status, string> = {
  saved: "Saved",
  unsaved: "Not saved yet",
  saving: "Saving…",
  offline: "No connection – kept here, trying again",
  unkept: "Cannot be saved now – kept here, trying again",
  "signed-out": "Signed out – kept here",
  conflict: "Changed elsewhere",
  refused: "Not saved",
};

async function load(id: string): Promise<Loaded> {
  await savesDone();
  const tab = await thisTab();
  const drafts = new Drafts(id, tab);
  const [piece, draft] = await Promise.all([server.editing.piece(id), drafts.take()]);
  return { piece, tab, draft, oldDraft: drafts.old() };
}

function useLoaded() {
  const { id = "" } = useParams();
  // Always fresh: an old copy would have to be merged with what was done since.
  return useQuery({
    queryKey: ["piece", id],
    queryFn: () => load(id),
    refetchOnMount: "always",
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  });
}

type WaitingProps = { error: Error | null; onAgain: () => void };

function Waiting({ error, onAgain }: WaitingProps) {
  if (!error) return <main className="wait">Opening the piece…</main>;
  if (hasFailed(error)) return <Failed error={error} onAgain={onAgain} />;
  return <EmptyPage title="No such piece" text={problemOf(error, "")} to="/" deed="Go to your pieces" />;
}

/** A piece with its steps, its saved state, undo and redo. */
export function PieceFrame({ artist }: { artist: string }) {
  const loaded = useLoaded();
  // Everything there is to choose from is part of every page: without it they would jump about once it is there.
  const materials = useMaterials();
  if (!loaded.data || !loaded.isFetchedAfterMount || !materials.data) {
    return (
      <Shell artist={artist} title="">
        <Waiting
          error={loaded.error ?? materials.error}
          onAgain={() => void Promise.all([loaded.refetch(), materials.refetch()])}
        />
      </Shell>
    );
  }
  return (
    <PieceProvider key={loaded.data.piece.id} loaded={loaded.data}>
      <Frame artist={artist} />
    </PieceProvider>
  );
}

/** A page to be printed, without the bar. */
export function PrintFrame({ page: Page }: { page: (props: { piece: Piece }) => React.ReactNode }) {
  const loaded = useLoaded();
  usePlace(loaded.data ? `${loaded.data.piece.title}, on paper` : "");
  if (!loaded.data || !loaded.isFetchedAfterMount)
    return <Waiting error={loaded.error} onAgain={() => void loaded.refetch()} />;
  return <Page piece={loaded.data.piece} />;
}

function Frame({ artist }: { artist: string }) {
  const { id = "", step = "look" } = useParams();
  const { undo, redo } = useEditor();
  const canUndo = useEditing((state) => state.piece.can_undo);
  const canRedo = useEditing((state) => state.piece.can_redo);
  const light = useEditing((state) => state.piece.document.light);
  const title = useEditing((state) => state.piece.title);
  const go = useNavigate();
  useKeys([
    ...STEPS.map((s) => ({
      key: s.key,
      does: `Go to ${s.name}`,
      run: () => void go(`/pieces/${id}/${s.path}`),
    })),
    { key: "Ctrl+z", does: "Undo", run: undo },
    { key: "Ctrl+y", does: "Redo", run: redo },
  ]);
  const current = [...STEPS, ...BESIDE].find((s) => s.path === step);
  if (!current) return <Navigate to={`/pieces/${id}/look`} replace />;
  const Page = current.page;
  const middle = (
    <>
      <Title />
      <nav className="steps" aria-label="Steps of the piece">
        {STEPS.map((s) => (
          <NavLink key={s.path} to={`/pieces/${id}/${s.path}`} title={`${s.name} (${s.key})`}>
            {s.name}
          </NavLink>
        ))}
      </nav>
      {light && <LightArrow fromDeg={light.from_deg} size={26} />}
    </>
  );
  const right = (
    <>
      <Saved />
      <Button variant="quiet" onClick={undo} disabled={!canUndo} title="Undo (Ctrl+z)">
        Undo
      </Button>
      <Button variant="quiet" onClick={redo} disabled={!canRedo} title="Redo (Ctrl+y)">
        Redo
      </Button>
    </>
  );
  return (
    <Shell
      artist={artist}
      title={`${"name" in current ? current.name : "Around"}: ${title}`}
      middle={middle}
      right={right}
    >
      <Notices />
      <Suspense fallback={<main className="wait">Opening…</main>}>
        <Page />
      </Suspense>
      <Trouble artist={artist} />
    </Shell>
  );
}

function Saved() {
  const status = useEditing((state) => state.status);
  const problem = useEditing((state) => state.problem);
  return (
    <span className={`saved is-${status}`} role="status" title={status === "unkept" ? problem : undefined}>
      {SAID[status]}
    </span>
  );
}

/** What is wrong with the piece, and what the last undo did or why something could not be done. */
function Notices() {
  const troubles = useEditing((state) => state.piece.troubles);
  const said = useEditing((state) => state.said);
  const { hush } = useEditor();
  useEffect(() => {
    if (!said) return;
    const timer = window.setTimeout(hush, SAID_FOR_MS);
    return () => window.clearTimeout(timer);
  }, [said, hush]);
  return (
    <>
      {troubles.length > 0 && (
        <ul className="notices" aria-label="About this piece">
          {troubles.map((trouble) => (
            <li key={trouble}>{trouble}</li>
          ))}
        </ul>
      )}
      <div className="said" aria-live="polite">
        {said && (
          <p>
            {said}{" "}
            <Button variant="quiet" size="sm" onClick={hush} aria-label="Close this message">
              ×
            </Button>
          </p>
        )}
      </div>
    </>
  );
}

function Title() {
  const title = useEditing((state) => state.piece.title);
  const { rename } = useEditor();
  const limits = useLimits();
  const [text, setText] = useState<string | null>(null);
  const done = () => {
    const next = text?.trim();
    if (next && next !== title) rename(next);
    setText(null);
  };
  return (
    <Form.Control
      className="piece-title"
      aria-label="Title of the piece"
      maxLength={limits.title}
      value={text ?? title}
      onChange={(event) => setText(event.target.value)}
      onBlur={done}
      onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
    />
  );
}

/** What stands between the artist and a saved piece, and the ways out. */
function Trouble({ artist }: { artist: string }) {
  const status = useEditing((state) => state.status);
  const problem = useEditing((state) => state.problem);
  const { dismiss, keepMine, takeTheirs } = useEditor();
  if (status === "signed-out") return <SignInAgain artist={artist} />;
  if (status === "refused") {
    return (
      <Modal show centered backdrop="static" aria-labelledby="refused-title">
        <Modal.Body>
          <h2 id="refused-title" className="h4">
            This change cannot be kept
          </h2>
          <p role="alert">{problem}</p>
          <p>Everything saved before it is still there.</p>
          <div className="dialog-actions">
            <Button variant="act" onClick={() => void dismiss()}>
              Go back to what was saved
            </Button>
          </div>
        </Modal.Body>
      </Modal>
    );
  }
  return (
    <Modal show={status === "conflict"} centered backdrop="static" aria-labelledby="conflict-title">
      <Modal.Body>
        <h2 id="conflict-title" className="h4">
          The same was changed in another window
        </h2>
        {status === "conflict" && <Both />}
        <p>
          Both states are safe: whichever you leave now goes into the history first, and Undo brings it back.
        </p>
        <div className="dialog-actions">
          <Button variant="quiet" onClick={takeTheirs}>
            Take the other
          </Button>
          <Button variant="act" onClick={keepMine}>
            Keep mine
          </Button>
        </div>
      </Modal.Body>
    </Modal>
  );
}

/** What differs between the two states, in the words of each. */
function Both() {
  const mine = usePiece();
  const theirs = useEditing((state) => state.theirs);
  if (!theirs) return null;
  return (
    <ul className="both" aria-label="What differs">
      {differences(mine, theirs).map((row) => (
        <li key={row.name}>
          <b>{row.name}</b>
          <span>here: {row.mine}</span>
          <span>there: {row.theirs}</span>
        </li>
      ))}
    </ul>
  );
}

/** An ended session is no lost work: the name stands, the password goes on. */
function SignInAgain({ artist }: { artist: string }) {
  const { retry } = useEditor();
  const [password, setPassword] = useState("");
  const signing = useMutation({
    mutationFn: () => server.signIn(artist, password),
    onSuccess: retry,
  });
  return (
    <Modal show centered backdrop="static" aria-labelledby="signed-out-title">
      <Form
        onSubmit={(event) => {
          event.preventDefault();
          signing.mutate();
        }}
      >
        <Modal.Body>
          <h2 id="signed-out-title" className="h4">
            You were signed out
          </h2>
          <p>
            Nothing is lost: what you did is kept in this window. Sign in as <b>{artist}</b> to go on, or use
            a sign-in link in another window and come back.
          </p>
          <Form.Control
            autoFocus
            type="password"
            autoComplete="current-password"
            aria-label={`Password of ${artist}`}
            value={password}
            onChange={(event) => setPassword(event.target.value)}
          />
          {signing.error && (
            <p className="problem" role="alert">
              {signing.error.message}
            </p>
          )}
          <div className="dialog-actions">
            <Button variant="quiet" onClick={retry}>
              I have signed in elsewhere
            </Button>
            <Button variant="act" type="submit" disabled={!password || signing.isPending}>
              Sign in and go on
            </Button>
          </div>
        </Modal.Body>
      </Form>
    </Modal>
  );
}
