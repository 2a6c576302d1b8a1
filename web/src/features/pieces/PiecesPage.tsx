import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form, Modal } from "react-bootstrap";
import { Link, useNavigate } from "react-router";
import { type Schemas, server } from "../../api/client";
import { pieceFileUrl, saveFrom, type Taken } from "../../api/files";
import { problemOf } from "../../api/mutations";
import { pictureUrl, sized } from "../../api/pictures";
import { useLimits, usePieces } from "../../api/queries";
import { Confirm } from "../../ui/Confirm";
import { Failed } from "../../ui/Failed";
import { useKeys } from "../../ui/keys";
import { RemovedList } from "../../ui/LazyRemoved";
import { TakeIn } from "../../ui/TakeIn";
import { FirstPiece } from "./FirstPiece";
import "./pieces.css";

type Row = Schemas["PieceRow"];
const THUMBNAIL = 400;

export function PiecesPage() {
  const pieces = usePieces();
  const [making, setMaking] = useState(false);
  const [leaving, setLeaving] = useState<Row | null>(null);
  useKeys([{ key: "n", does: "Start a new piece", run: () => setMaking(true) }]);
  // Nothing to press yet: what is there to press depends on whether there are pieces.
  if (pieces.isPending)
    return (
      <main key="wait" className="wait">
        Opening…
      </main>
    );
  if (!pieces.data) return <Failed error={pieces.error} onAgain={() => void pieces.refetch()} />;
  return (
    <>
      {pieces.data.length === 0 ? (
        <FirstPiece onWithout={() => setMaking(true)} />
      ) : (
        <List rows={pieces.data} onNew={() => setMaking(true)} onLeave={setLeaving} />
      )}
      <NewPiece open={making} close={() => setMaking(false)} />
      <DeletePiece row={leaving} close={() => setLeaving(null)} />
    </>
  );
}

type ListProps = {
  rows: readonly Row[];
  onNew: () => void;
  onLeave: (row: Row) => void;
};

function List({ rows, onNew, onLeave }: ListProps) {
  const go = useNavigate();
  const saving = useMutation({ mutationFn: (id: string) => saveFrom(pieceFileUrl(id), "piece.zip") });
  const problem = problemOf(saving.error, "");
  const onTaken = ({ pieces, said }: Taken) => {
    const [only] = pieces;
    if (only && pieces.length === 1 && said.length === 0) void go(`/pieces/${only.id}/mix`);
  };
  return (
    <main className="page">
      <div className="page-head">
        <h1>Pieces</h1>
        <TakeIn says="take a file in" onTaken={onTaken} />
        <Button variant="act" onClick={onNew} title="Start a new piece (n)">
          New piece
        </Button>
      </div>
      {problem && (
        <p className="problem" role="alert">
          {problem}
        </p>
      )}
      <ul className="piece-list">
        {rows.map((row) => (
          <li key={row.id} className="piece-card">
            <Link to={`/pieces/${row.id}/${row.steps ? "work" : "look"}`} className="piece-open">
              <span className="piece-picture">
                {row.picture ? (
                  <img src={sized(pictureUrl(row.picture), THUMBNAIL)} alt="" />
                ) : (
                  <span>no picture yet</span>
                )}
              </span>
              <span className="piece-name">{row.title}</span>
              <span>{row.figures.join(" and ")}</span>
              <span className="numbers">
                {row.spots} spots · {row.steps ? `${row.done} of ${row.steps} steps done` : "not planned yet"}
              </span>
            </Link>
            <span className="piece-deeds">
              <Button
                variant="quiet"
                size="sm"
                disabled={saving.isPending}
                onClick={() => saving.mutate(row.id)}
                aria-label={`take along ${row.title}`}
              >
                take along
              </Button>
              <Button
                variant="quiet"
                size="sm"
                onClick={() => onLeave(row)}
                aria-label={`Remove ${row.title}`}
              >
                Remove
              </Button>
            </span>
          </li>
        ))}
      </ul>
      <RemovedList kind="piece" />
    </main>
  );
}

function NewPiece({ open, close }: { open: boolean; close: () => void }) {
  const limits = useLimits();
  const [title, setTitle] = useState("");
  // However often it is clicked, and whatever becomes of the answers: one key makes one piece.
  const [key] = useState(() => crypto.randomUUID());
  const go = useNavigate();
  const queries = useQueryClient();
  const adding = useMutation({
    mutationFn: () => server.addPiece(title.trim(), key),
    onSuccess: async (piece) => {
      await queries.invalidateQueries({ queryKey: ["pieces"] });
      void go(`/pieces/${piece.id}/look`);
    },
  });
  const send = (event: React.FormEvent) => {
    event.preventDefault();
    if (!adding.isPending) adding.mutate();
  };
  return (
    <Modal show={open} onHide={close} centered aria-labelledby="new-piece">
      <Form onSubmit={send}>
        <Modal.Body>
          <h2 id="new-piece" className="h4">
            What will it be?
          </h2>
          <Form.Control
            autoFocus
            aria-label="Title"
            placeholder="for instance: Grandmother at the window"
            maxLength={limits.title}
            value={title}
            onChange={(event) => setTitle(event.target.value)}
          />
          {adding.error && (
            <p className="problem" role="alert">
              {adding.error.message}
            </p>
          )}
          <div className="dialog-actions">
            <Button variant="quiet" onClick={close}>
              Not now
            </Button>
            <Button variant="act" type="submit" disabled={!title.trim() || adding.isPending}>
              Begin
            </Button>
          </div>
        </Modal.Body>
      </Form>
    </Modal>
  );
}

function DeletePiece({ row, close }: { row: Row | null; close: () => void }) {
  const queries = useQueryClient();
  const remove = async () => {
    if (row) await server.deletePiece(row.id);
    await Promise.all(["pieces", "removed"].map((key) => queries.invalidateQueries({ queryKey: [key] })));
    close();
  };
  return (
    <Confirm
      show={row !== null}
      title={`Remove “${row?.title}”?`}
      text="Its spots, recipes, ticks and notes go with it. For 30 days it can be put back, below the others."
      action="Remove the piece"
      onConfirm={() => void remove()}
      onCancel={close}
    />
  );
}
