import { useRef, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import { problemOf, useWrite } from "../../api/mutations";
import { againFor, type Kind, type NotebookEntry, useNotebook } from "../../api/notebook";
import { usePieces } from "../../api/queries";
import { Trouble } from "../../ui/Failed";
import { useKeys } from "../../ui/keys";
import { StickDot } from "../../ui/Swatch";
import { useSettled } from "../../ui/useSettled";
import "./notebook.css";

const KINDS: Record<Kind, string> = {
  complexion: "complexions",
  plan: "plans",
  recipe: "recipes",
  comparison: "drawings compared",
  card: "trial cards",
  note: "notes",
  stick: "sticks",
};
const DAY = new Intl.DateTimeFormat(undefined, { day: "numeric", month: "short", year: "numeric" });
const MIDDLE = "#b98a6a";

/** Everything that was planned, tried, compared and noted, on one page. */
export function NotebookPage() {
  const field = useRef<HTMLInputElement>(null);
  const list = useRef<HTMLUListElement>(null);
  const [text, setText] = useState("");
  const [kinds, setKinds] = useState<Kind[]>([]);
  const [colour, setColour] = useState("");
  // The list is one stop of the Tab key: the entry that was in hand last, or the first; arrows go through it.
  const [inHand, setInHand] = useState(0);
  const settled = useSettled(text, 200);
  const found = useNotebook(settled, kinds, useSettled(colour, 200));
  const entries = found.data?.entries ?? [];
  const step = (by: number) => {
    const rows = [...(list.current?.querySelectorAll<HTMLElement>("h2 > *") ?? [])];
    const at = rows.indexOf(document.activeElement as HTMLElement);
    rows[Math.min(rows.length - 1, Math.max(0, at + by))]?.focus();
  };
  useKeys([
    { key: "f", does: "Find in the notebook", run: () => field.current?.focus() },
    { key: "ArrowDown", does: "The next entry", run: () => step(1) },
    { key: "ArrowUp", does: "The entry before", run: () => step(-1) },
  ]);
  const turn = (kind: Kind) =>
    setKinds(kinds.includes(kind) ? kinds.filter((row) => row !== kind) : [...kinds, kind]);
  const stop = Math.min(inHand, entries.length - 1);
  const searching = text !== "" || kinds.length > 0 || colour !== "";
  return (
    <main className="notebook">
      <h1>Notebook</h1>
      <div className="notebook-find">
        <Form.Control
          ref={field}
          type="search"
          aria-label="Find by words"
          placeholder="a place, depth, number, medium, paper, month …"
          maxLength={200}
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
        <label className="notebook-colour">
          nearest to{" "}
          <input
            type="color"
            aria-label="Nearest to this colour"
            value={colour || MIDDLE}
            onChange={(event) => setColour(event.target.value)}
          />
        </label>
        {colour && (
          <Button variant="quiet" size="sm" onClick={() => setColour("")}>
            any colour
          </Button>
        )}
      </div>
      <fieldset className="word-choices notebook-kinds" aria-label="What it is">
        {(Object.keys(KINDS) as Kind[]).map((kind) => (
          <button key={kind} type="button" aria-pressed={kinds.includes(kind)} onClick={() => turn(kind)}>
            {KINDS[kind]}
          </button>
        ))}
      </fieldset>
      {found.error && <Trouble error={found.error} onAgain={() => void found.refetch()} />}
      {found.isPending && <p className="hint">Leafing through it …</p>}
      {found.data && entries.length === 0 && (
        <p>
          {searching
            ? "Nothing here holds all of that. Take a word away, or another kind."
            : "Nothing is noted yet. What you plan, try, lay and compare comes here by itself."}
        </p>
      )}
      <ul ref={list} className="notebook-list" aria-label="Entries" aria-busy={found.isFetching}>
        {entries.map((entry, number) => (
          <li
            key={`${entry.kind} ${entry.title} ${entry.at} ${entry.text}`}
            onFocus={() => setInHand(number)}
          >
            <Row entry={entry} tab={number === stop ? 0 : -1} />
          </li>
        ))}
      </ul>
    </main>
  );
}

function Row({ entry, tab }: { entry: NotebookEntry; tab: 0 | -1 }) {
  return (
    <>
      <span className="notebook-swatch">{entry.swatch && <StickDot hex={entry.swatch.hex} />}</span>
      <div>
        <h2>
          {entry.piece ? (
            <Link to={`/pieces/${entry.piece}/${entry.step}`} tabIndex={tab}>
              {entry.title}
            </Link>
          ) : (
            <span tabIndex={tab}>{entry.title}</span>
          )}
        </h2>
        <p>{entry.text}</p>
        {(entry.kind === "plan" || entry.kind === "complexion") && entry.piece && (
          <Again piece={entry.piece} figure={entry.figure} tab={tab} />
        )}
        {entry.swatch && (
          <p className="hint">
            {entry.swatch.words}
            {entry.close && `, ${entry.close}`}
          </p>
        )}
      </div>
      <span className="hint">
        {entry.kind}
        <br />
        <time dateTime={entry.at}>{DAY.format(new Date(entry.at))}</time>
      </span>
    </>
  );
}

/** A plan used for another piece: its manner, and its sticks as far as the tray of today has them. */
function Again({ piece, figure, tab }: { piece: string; figure: string; tab: 0 | -1 }) {
  const [open, setOpen] = useState(false);
  const [into, setInto] = useState("");
  const pieces = usePieces();
  const use = useWrite(againFor, ["notebook"]);
  if (!open)
    return (
      <Button variant="quiet" size="sm" tabIndex={tab} onClick={() => setOpen(true)}>
        use this for another figure
      </Button>
    );
  const others = (pieces.data ?? []).filter((row) => row.id !== piece);
  if (use.data)
    return (
      <div role="note">
        <ul>
          {use.data.sticks.map((row) => (
            <li key={row.was}>
              {row.was} → {row.now ? `${row.now}, ${row.close}` : "nothing here comes near"}
            </li>
          ))}
        </ul>
        <Link className="btn btn-act btn-sm" to={`/pieces/${use.data.into}/mix`}>
          Plan it anew in Mix
        </Link>
      </div>
    );
  return (
    <div className="notebook-again">
      <Form.Select
        size="sm"
        aria-label="For which piece"
        value={into}
        onChange={(event) => setInto(event.target.value)}
      >
        <option value="">for which piece?</option>
        {others.map((row) => (
          <option key={row.id} value={row.id}>
            {row.title}
          </option>
        ))}
      </Form.Select>
      <Button
        variant="act"
        size="sm"
        disabled={!into || use.isPending}
        onClick={() => use.mutate({ piece, figure, into })}
      >
        Use it
      </Button>
      <Button variant="quiet" size="sm" onClick={() => setOpen(false)}>
        leave it
      </Button>
      {use.error && (
        <p className="problem" role="alert">
          {problemOf(use.error)}
        </p>
      )}
    </div>
  );
}
