import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { type Complexion, complexionsFileUrl, type Skin, server } from "../../api/client";
import { problemOf, useWrite } from "../../api/mutations";
import { PutBackLast } from "../../ui/RemovedList";

type Props = { name: string; skin: Skin; onTake: (name: string, skin: Skin) => void };

const same = (one: Skin, other: Skin) =>
  (Object.keys(one) as (keyof Skin)[]).every((field) => one[field] === other[field]);

/** The complexions that are kept, side by side; one is put on the sitter, or the sitter's is kept. */
export function Kept({ name, skin, onTake }: Props) {
  const kept = useQuery({ queryKey: ["complexions"], queryFn: server.complexions }).data;
  const file = useRef<HTMLInputElement>(null);
  const [said, setSaid] = useState("");
  const keep = useWrite(server.keepComplexion, ["complexions"]);
  const change = useWrite(
    ({ id, ...body }: { id: string; name: string; skin: Skin; note: string }) =>
      server.changeComplexion(id, body),
    ["complexions"],
  );
  const drop = useWrite(server.deleteComplexion, ["complexions", "removed"]);
  const takeIn = useWrite(server.takeInComplexions, ["complexions"], (made) =>
    setSaid(made.added ? `${made.added} put in.` : "All of them were there already."),
  );
  const held = kept?.find((row) => row.name === name);
  const is = held && same(held.skin, skin);
  const problem = problemOf(keep.error ?? change.error ?? drop.error ?? takeIn.error);
  return (
    <section className="kept" aria-label="Complexions you keep">
      {kept?.map((row) => (
        <Face key={row.id} row={row} chosen={row.id === held?.id} onTake={() => onTake(row.name, row.skin)} />
      ))}
      <Button
        variant="act"
        size="sm"
        disabled={!name.trim() || is === true || keep.isPending || change.isPending}
        onClick={() =>
          held
            ? change.mutate({ id: held.id, name, skin, note: held.note })
            : keep.mutate({ name, skin, note: "" })
        }
      >
        {is ? "Kept" : held ? "Keep as it is now" : "Keep"}
      </Button>
      {held && (
        <Button variant="quiet" size="sm" onClick={() => drop.mutate(held.id)}>
          forget {held.name}
        </Button>
      )}
      <PutBackLast kind="complexion" />
      {kept && kept.length > 0 && (
        <a className="btn btn-quiet btn-sm" href={complexionsFileUrl} download="complexions.json">
          take along as a file
        </a>
      )}
      <Button variant="quiet" size="sm" onClick={() => file.current?.click()}>
        put in from a file
      </Button>
      <Form.Control
        ref={file}
        type="file"
        accept="application/json"
        className="visually-hidden"
        aria-label="File with complexions"
        tabIndex={-1}
        onChange={async (event) => {
          const chosen = (event.target as HTMLInputElement).files?.[0];
          if (chosen) takeIn.mutate(await chosen.text());
          event.target.value = "";
        }}
      />
      {said && <span role="note">{said}</span>}
      {problem && (
        <span className="problem" role="alert">
          {problem}
        </span>
      )}
    </section>
  );
}

function Face({ row, chosen, onTake }: { row: Complexion; chosen: boolean; onTake: () => void }) {
  return (
    <button
      type="button"
      className={chosen ? "kept-one is-chosen" : "kept-one"}
      aria-pressed={chosen}
      title={row.words}
      onClick={onTake}
    >
      <i style={{ background: row.colour.hex }} />
      {row.name}
    </button>
  );
}
