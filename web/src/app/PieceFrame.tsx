import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form, Modal } from "react-bootstrap";
import { Navigate, NavLink, useNavigate, useParams } from "react-router";
import { type Piece, Refusal, server } from "../api/client";
import { PieceProvider, type SaveState, savesDone, usePiece } from "../api/piece";
import { useLimits } from "../api/queries";
import { LookPage } from "../features/look/LookPage";
import { MixPage } from "../features/mix/MixPage";
import { WorkPage } from "../features/work/WorkPage";
import { useKeys } from "../ui/keys";
import { Shell } from "./Shell";

const STEPS = [
  { path: "look", name: "Look", key: "l", page: LookPage },
  { path: "mix", name: "Mix", key: "m", page: MixPage },
  { path: "work", name: "Work", key: "w", page: WorkPage },
] as const;

const SAID: Record<SaveState, string> = {
  saved: "Saved",
  unsaved: "Not saved yet",
  saving: "Saving…",
  offline: "No connection – kept here, trying again",
  unkept: "Cannot be saved now – kept here, trying again",
  conflict: "Changed elsewhere",
  refused: "Not saved",
};

function useLoaded() {
  const { id = "" } = useParams();
  // Always fresh: an old copy would only lead to a conflict.
  return useQuery({
    queryKey: ["piece", id],
    queryFn: () => savesDone().then(() => server.piece(id)),
    refetchOnMount: "always",
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  });
}

function Waiting({ error }: { error: unknown }) {
  if (!error) return <main className="wait">Opening the piece…</main>;
  return (
    <main className="wait" role="alert">
      <p>{error instanceof Refusal ? error.message : "The piece could not be opened."}</p>
      <NavLink to="/">Go to your pieces</NavLink>
    </main>
  );
}

/** A piece with its steps, its saved state, undo and redo. */
export function PieceFrame({ artist }: { artist: string }) {
  const loaded = useLoaded();
  if (!loaded.data || !loaded.isFetchedAfterMount) {
    return (
      <Shell artist={artist}>
        <Waiting error={loaded.error} />
      </Shell>
    );
  }
  return (
    <PieceProvider key={loaded.data.id} loaded={loaded.data}>
      <Frame artist={artist} />
    </PieceProvider>
  );
}

/** A page to be printed, without the bar. */
export function PrintFrame({ page: Page }: { page: (props: { piece: Piece }) => React.ReactNode }) {
  const loaded = useLoaded();
  if (!loaded.data || !loaded.isFetchedAfterMount) return <Waiting error={loaded.error} />;
  return <Page piece={loaded.data} />;
}

function Frame({ artist }: { artist: string }) {
  const { id = "", step = "look" } = useParams();
  const { piece, state, problem, undo, redo } = usePiece();
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
  const current = STEPS.find((s) => s.path === step);
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
    </>
  );
  const right = (
    <>
      <span className={`saved is-${state}`} role="status" title={state === "unkept" ? problem : undefined}>
        {SAID[state]}
      </span>
      <Button variant="quiet" onClick={undo} disabled={!piece.can_undo} title="Undo (Ctrl+z)">
        Undo
      </Button>
      <Button variant="quiet" onClick={redo} disabled={!piece.can_redo} title="Redo (Ctrl+y)">
        Redo
      </Button>
    </>
  );
  return (
    <Shell artist={artist} middle={middle} right={right}>
      {piece.troubles.length > 0 && (
        <ul className="notices" aria-label="About this piece">
          {piece.troubles.map((trouble) => (
            <li key={trouble}>{trouble}</li>
          ))}
        </ul>
      )}
      <Page />
      <Trouble />
    </Shell>
  );
}

function Title() {
  const { piece, rename } = usePiece();
  const limits = useLimits();
  const [text, setText] = useState<string | null>(null);
  const done = () => {
    const title = text?.trim();
    if (title && title !== piece.title) rename(title);
    setText(null);
  };
  return (
    <Form.Control
      className="piece-title"
      aria-label="Title of the piece"
      maxLength={limits.title}
      value={text ?? piece.title}
      onChange={(event) => setText(event.target.value)}
      onBlur={done}
      onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
    />
  );
}

/** What stands between the artist and a saved piece, and the ways out. */
function Trouble() {
  const { state, problem, dismiss, keepMine, takeTheirs } = usePiece();
  if (state === "refused") {
    return (
      <Modal show centered backdrop="static" aria-labelledby="refused-title">
        <Modal.Body>
          <h2 id="refused-title" className="h4">
            This change cannot be kept
          </h2>
          <p role="alert">{problem}</p>
          <p>Everything saved before it is still there.</p>
          <div className="dialog-actions">
            <Button variant="act" onClick={dismiss}>
              Go back to what was saved
            </Button>
          </div>
        </Modal.Body>
      </Modal>
    );
  }
  return (
    <Modal show={state === "conflict"} centered backdrop="static" aria-labelledby="conflict-title">
      <Modal.Body>
        <h2 id="conflict-title" className="h4">
          This piece was changed in another window
        </h2>
        <p>Both states are safe. The one you leave now stays in the history: Undo brings it back.</p>
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
