import { useState } from "react";
import { Button } from "react-bootstrap";
import { problemOf, useWrite } from "../api/mutations";
import { letGo, putBack, type Removed, useRemoved } from "../api/removed";
import { Confirm } from "./Confirm";

const DAY = new Intl.DateTimeFormat(undefined, { day: "numeric", month: "long" });

/** The first keys of what is asked for again when one of a kind is back. */
const STALE: Record<Removed["kind"], string[]> = {
  method: ["methods"],
  complexion: ["complexions"],
  piece: ["pieces", "notebook", "uses"],
  tray: ["trays", "notebook"],
  paper: ["papers"],
};

/** Puts back what was removed last of a kind, where there is no room for a list; nothing if there is nothing. */
export function PutBackLast({ kind }: { kind: Removed["kind"] }) {
  const [last] = useRemoved(kind);
  const back = useWrite(putBack, ["removed", ...STALE[kind]]);
  const problem = problemOf(back.error);
  if (!last) return null;
  return (
    <>
      <Button variant="quiet" size="sm" disabled={back.isPending} onClick={() => back.mutate(last.id)}>
        put back {last.name}
      </Button>
      {problem && (
        <span className="problem" role="alert">
          {problem}
        </span>
      )}
    </>
  );
}

/** What was removed lately, to be put back; nothing if there is nothing. */
export function RemovedList({ kind }: { kind: Removed["kind"] }) {
  const rows = useRemoved(kind);
  const [leaving, setLeaving] = useState<Removed | null>(null);
  const back = useWrite(putBack, ["removed", ...STALE[kind]]);
  const going = useWrite(letGo, ["removed"]);
  const problem = problemOf(back.error ?? going.error);
  if (rows.length === 0) return null;
  return (
    <section className="removed" aria-label="Removed lately">
      <h2 className="h6">Removed lately</h2>
      <ul>
        {rows.map((row) => (
          <li key={row.id}>
            <span>{row.name}</span>
            <span className="hint">kept until {DAY.format(new Date(row.until))}</span>
            <Button
              variant="quiet"
              size="sm"
              disabled={back.isPending}
              aria-label={`put back ${row.name}`}
              onClick={() => back.mutate(row.id)}
            >
              put back
            </Button>
            <Button
              variant="quiet"
              size="sm"
              aria-label={`let go ${row.name}`}
              onClick={() => setLeaving(row)}
            >
              let go
            </Button>
          </li>
        ))}
      </ul>
      {problem && (
        <p className="problem" role="alert">
          {problem}
        </p>
      )}
      <Confirm
        show={leaving !== null}
        title={`Let “${leaving?.name}” go?`}
        text="It cannot be put back after that."
        action="Let it go for good"
        onConfirm={() => {
          if (leaving) going.mutate(leaving.id);
          setLeaving(null);
        }}
        onCancel={() => setLeaving(null)}
      />
    </section>
  );
}
