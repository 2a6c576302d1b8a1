import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { type Stick, server } from "../api/client";
import { problemOf, useWrite } from "../api/mutations";
import { useMaterials, useSticks } from "../api/queries";
import type { NewStick } from "./AddSticks";
import { LikeAnother } from "./LikeAnother";
import { type Row as ListRow, type Mended, mended, remember, remembered, sorted, typed } from "./newStick";
import { Strokes } from "./Strokes";
import { useSettled } from "./useSettled";

const FIELDS = [
  "code",
  "name",
  "medium",
  "hex",
  "opacity",
  "range",
  "condition",
  "count",
  "note",
  "lightfastness",
  "binder",
  "pigments",
  "spectrum",
];
const FIELD_WORDS: Record<string, string> = { "": "not taken", code: "number", hex: "colour" };
const SETTLED_MS = 250;
const EXAMPLE = "12 burnt sienna\nraw umber\nwarm grey 3\nW5 rose #e26a84";

type Props = { medium: string; tray: { id: string } | null; onChange: (sticks: NewStick[]) => void };

/** Sticks out of whatever is typed or pasted: what is missing is guessed and marked, what is wrong can be set right. */
export function FromList({ medium, tray, onChange }: Props) {
  const { sticks: own } = useSticks(tray?.id ?? null);
  const ranges = useMaterials().data?.ranges.filter((row) => row.medium === medium) ?? [];
  const file = useRef<HTMLInputElement>(null);
  const [text, setText] = useState(typed.read);
  const [range, setRange] = useState("");
  const [columns, setColumns] = useState<string[] | null>(null);
  const [hand, setHand] = useState<ReadonlyMap<number, Mended>>(new Map());
  const [left, setLeft] = useState<ReadonlySet<number>>(new Set());
  const settled = useSettled(text, SETTLED_MS);
  const { data, error } = useQuery({
    queryKey: ["list", settled, medium, range, columns],
    queryFn: async () => {
      const body = { text: settled, medium, range };
      const held = await server.readList({ ...body, columns: columns ?? [] });
      const before = columns || held.header.length < 2 ? null : remembered(held.header);
      return before ? server.readList({ ...body, columns: before }) : held;
    },
    enabled: settled.trim() !== "",
    retry: false,
    placeholderData: keepPreviousData,
  });
  const held = settled.trim() === "" ? undefined : data;
  const { rows, fine } = useMemo(() => {
    const stay = held?.sticks.filter((row) => !left.has(row.number)) ?? [];
    return sorted(stay.map((row) => mended(row, hand.get(row.number))));
  }, [held, hand, left]);
  const wrong = rows.filter((row) => row.wrong.length > 0);
  useEffect(() => onChange(fine), [fine, onChange]);
  const write = (next: string) => {
    setText(next);
    typed.keep(next);
    // What was set by hand belongs to lines that may be others now.
    setHand(new Map());
    setLeft(new Set());
    setColumns(null);
  };
  const opened = useWrite(server.listIn, [], (found) => write(found.text));
  const mend = (row: ListRow, by: Mended) =>
    setHand(new Map(hand).set(row.number, { ...hand.get(row.number), ...by }));
  const name = (at: number, field: string) => {
    const next = (held?.columns ?? []).map((was, i) => (i === at ? field : was === field ? "" : was));
    remember(held?.header ?? [], next);
    setColumns(next);
  };
  return (
    <section aria-label="By name or list">
      <Form.Group controlId="stick-list">
        <Form.Label>
          One in each line: its number, its name, or both. Or paste a list from anywhere.
        </Form.Label>
        <Form.Control
          as="textarea"
          autoFocus
          rows={6}
          value={text}
          placeholder={EXAMPLE}
          spellCheck={false}
          onChange={(event) => write(event.target.value)}
        />
      </Form.Group>
      <div className="list-more">
        <input
          ref={file}
          type="file"
          hidden
          aria-label="File with your list"
          accept=".csv,.tsv,.txt,.xlsx,.xls,.ods,.gpl,.cxf,.json,text/*"
          onChange={(event) => {
            const chosen = event.target.files?.[0];
            event.target.value = "";
            if (chosen) opened.mutate(chosen);
          }}
        />
        <Button variant="quiet" size="sm" disabled={opened.isPending} onClick={() => file.current?.click()}>
          {opened.isPending ? "reading it …" : "read a file"}
        </Button>
        <span className="hint">text, spreadsheet, palette, CGATS, CxF or JSON</span>
        {ranges.length > 0 && (
          <Form.Select
            size="sm"
            aria-label="Whose numbers they are"
            value={range}
            onChange={(event) => setRange(event.target.value)}
          >
            <option value="">numbers of no range</option>
            {ranges.map((row) => (
              <option key={row.id} value={row.id}>
                numbers of {row.name}
              </option>
            ))}
          </Form.Select>
        )}
      </div>
      {opened.error && (
        <p className="problem" role="alert">
          {problemOf(opened.error, "")}
        </p>
      )}
      {(opened.data?.said?.length ?? 0) > 0 && (
        <ul className="list-wrong" aria-label="Not understood in the file">
          {opened.data?.said?.map((row) => (
            <li key={row}>{row}</li>
          ))}
        </ul>
      )}
      {error && settled.trim() !== "" && (
        <p className="problem" role="alert">
          {problemOf(error, "")}
        </p>
      )}
      {held && held.columns.length > 1 && (
        <fieldset className="list-columns">
          <legend>What the columns are</legend>
          {held.columns.map((field, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: columns are told apart by their place alone
            <Form.Group key={i} controlId={`column-${i}`}>
              <Form.Label>{held.header[i] || `column ${i + 1}`}</Form.Label>
              <Form.Select size="sm" value={field} onChange={(event) => name(i, event.target.value)}>
                {["", ...FIELDS].map((each) => (
                  <option key={each} value={each}>
                    {FIELD_WORDS[each] ?? each}
                  </option>
                ))}
              </Form.Select>
            </Form.Group>
          ))}
        </fieldset>
      )}
      {wrong.length > 0 && (
        <p className="list-wrong" role="note">
          {wrong.length === 1 ? "One line needs a word" : `${wrong.length} lines need a word`} from you; the
          others can be put in as they are.
        </p>
      )}
      <ul className="list-rows">
        {rows.map((row) => (
          <Row
            key={row.number}
            row={row}
            own={own}
            onMend={(by) => mend(row, by)}
            onLeave={() => setLeft(new Set(left).add(row.number))}
          />
        ))}
      </ul>
    </section>
  );
}

type RowProps = { row: ListRow; own: Stick[]; onMend: (by: Mended) => void; onLeave: () => void };

function Row({ row, own, onMend, onLeave }: RowProps) {
  const media = useMaterials().data?.media ?? [];
  const fault = (field: string) => row.wrong.some((wrong) => wrong.field === field);
  return (
    <li className={row.wrong.length ? "is-wrong" : ""}>
      <label className="row-colour" title="Set its colour">
        {row.hex ? (
          <Strokes hex={row.hex} pressure="medium" medium={row.medium} />
        ) : (
          <span className="no-colour">?</span>
        )}
        <input
          type="color"
          aria-label={`Colour of ${row.name || row.code}`}
          value={row.hex || "#808080"}
          onChange={(event) => onMend({ hex: event.target.value, source: "picked" })}
        />
      </label>
      <Form.Control
        size="sm"
        aria-label={`Number in line ${row.number}`}
        className={row.guessed.includes("code") ? "row-code is-guessed" : "row-code"}
        isInvalid={fault("code")}
        value={row.code}
        maxLength={80}
        onChange={(event) => onMend({ code: event.target.value })}
      />
      <Form.Control
        size="sm"
        aria-label={`Name in line ${row.number}`}
        isInvalid={fault("name")}
        value={row.name}
        maxLength={80}
        onChange={(event) => onMend({ name: event.target.value })}
      />
      {fault("medium") && (
        <Form.Select
          size="sm"
          aria-label={`What line ${row.number} is`}
          value=""
          onChange={(event) => onMend({ medium: event.target.value })}
        >
          <option value="">which?</option>
          {media.map((medium) => (
            <option key={medium.id} value={medium.id}>
              {medium.name}
            </option>
          ))}
        </Form.Select>
      )}
      <Button variant="quiet" size="sm" aria-label={`Remove line ${row.number}`} onClick={onLeave}>
        remove
      </Button>
      {(fault("hex") || row.source === "like another") && (
        <LikeAnother
          label={`Line ${row.number} is like`}
          hex={row.hex}
          sticks={own.filter((stick) => !row.medium || stick.medium === row.medium)}
          onSet={(hex) => onMend({ hex, source: "like another" })}
        />
      )}
      {row.wrong.map((wrong) => (
        <p className="row-said" key={wrong.field + wrong.said}>
          Line {row.number}: {wrong.said}
        </p>
      ))}
      {row.wrong.length === 0 && row.guessed.includes("hex") && (
        <p className="row-said hint">colour guessed from the name</p>
      )}
    </li>
  );
}
