import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { type Schemas, server, type Tray } from "../../api/client";
import { problemOf, useWrite } from "../../api/mutations";
import { trayQuery, useTrays } from "../../api/queries";
import { Strokes } from "../../ui/Strokes";
import { useNoun } from "../../ui/useNoun";
import { RunsOut } from "./RunsOut";

type Advice = Schemas["Advice"];
type Worth = Schemas["WorthBuying"];
type ShopStick = Schemas["ShopStick"];

const money = (price: number) => (price ? price.toFixed(2) : "no price known");
const keyOf = ({ place, code }: ShopStick) => `${place} ${code}`;

/** What is missing for the pieces there are, one stick after the other; the cheapest way to it; what runs out first. */
export function ToBuy({ tray, onOpen }: { tray: Tray; onOpen: (id: string) => void }) {
  const trays = useTrays().data ?? [];
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const all = useQuery({
    queryKey: ["to buy", tray.id, tray.sticks.length, "all"],
    queryFn: () => server.toBuy(tray.id, { pieces: [] }),
    retry: false,
  });
  const pieces = all.data?.pieces ?? [];
  const chosen = pieces.filter((piece) => !left.has(piece.id)).map((piece) => piece.id);
  const some = useQuery({
    queryKey: ["to buy", tray.id, tray.sticks.length, chosen],
    queryFn: () => server.toBuy(tray.id, { pieces: chosen }),
    enabled: left.size > 0 && chosen.length > 0,
    retry: false,
  });
  const advice = left.size > 0 && chosen.length > 0 ? some.data : all.data;
  const noun = useNoun(advice?.sticks ?? []);
  const error = all.error ?? some.error;
  return (
    <div className="to-buy">
      <section aria-label="What to buy">
        <h1>{error ? "What to buy" : advice ? said(advice, noun) : "Looking at your pieces …"}</h1>
        {error && (
          <p className="problem" role="alert">
            {problemOf(error, "")}
          </p>
        )}
        <fieldset className="buy-pieces">
          <legend className="visually-hidden">With what, and for what</legend>
          {trays.length > 1 && (
            <Form.Select
              size="sm"
              aria-label="Which box"
              value={tray.id}
              onChange={(event) => onOpen(event.target.value)}
            >
              {trays.map((row) => (
                <option key={row.id} value={row.id}>
                  beside {row.name}
                </option>
              ))}
            </Form.Select>
          )}
          {pieces.length > 1 &&
            pieces.map((piece) => (
              <Form.Check
                key={piece.id}
                id={`for-${piece.id}`}
                label={`for ${piece.title}`}
                checked={!left.has(piece.id)}
                onChange={() => {
                  const next = new Set(left);
                  if (!next.delete(piece.id)) next.add(piece.id);
                  setLeft(next);
                }}
              />
            ))}
        </fieldset>
        {advice && advice.sticks.length > 0 && <Wanted key={chosen.join()} tray={tray} advice={advice} />}
      </section>
      <RunsOut tray={tray} />
    </div>
  );
}

/** The answer in one sentence. */
function said({ pieces, sticks }: Advice, noun: string): string {
  if (pieces.length === 0) return "Mark places in a piece, and this page says what is missing for it.";
  if (sticks.length === 0) return "Nothing is missing for these pieces.";
  return sticks.length === 1
    ? `One ${noun} would help`
    : `${WORDS[sticks.length]} ${noun}s would help, in this order`;
}
const WORDS = [
  "",
  "One",
  "Two",
  "Three",
  "Four",
  "Five",
  "Six",
  "Seven",
  "Eight",
  "Nine",
  "Ten",
  "Eleven",
  "Twelve",
];

function Wanted({ tray, advice }: { tray: Tray; advice: Advice }) {
  const queries = useQueryClient();
  const [off, setOff] = useState<ReadonlySet<string>>(new Set());
  const sets = advice.sets.filter((set) => set.used > 0);
  const wanted = advice.sticks.filter((row) => !off.has(keyOf(row.stick)));
  const cheapest = useQuery({
    queryKey: ["cheapest", wanted.map((row) => keyOf(row.stick))],
    queryFn: () =>
      server.cheapest(
        tray.id,
        wanted.map(({ stick: { place, code } }) => ({ place, code })),
      ),
    enabled: wanted.length > 0,
    retry: false,
  });
  const note = useWrite(
    () =>
      server.putSticks(
        tray.id,
        wanted.map(({ stick, medium, opacity, swatch }) => ({
          code: stick.code,
          name: stick.name,
          medium,
          opacity,
          hex: swatch.hex,
          range: stick.place,
          condition: "wanted",
        })) as Schemas["NewStickRequest"][],
      ),
    ["trays"],
    (changed) => queries.setQueryData(trayQuery(changed.id).queryKey, changed),
  );
  return (
    <>
      <ol className="buy-list">
        {advice.sticks.map((row) => (
          <BuyRow
            key={keyOf(row.stick)}
            row={row}
            advice={advice}
            on={!off.has(keyOf(row.stick))}
            onTurn={() => {
              const next = new Set(off);
              if (!next.delete(keyOf(row.stick))) next.add(keyOf(row.stick));
              setOff(next);
            }}
          />
        ))}
      </ol>
      {wanted.length > 0 && cheapest.data && <Cheapest found={cheapest.data} />}
      <div className="buy-deeds">
        <Button
          variant="act"
          className="btn-deed"
          disabled={wanted.length === 0 || note.isPending}
          onClick={() => note.mutate(undefined)}
        >
          Note {wanted.length === 1 ? "it" : "them"} as wanted
        </Button>
        <span className="hint" role="status">
          {note.isSuccess ? `Noted in ${tray.name}; Undo there takes them out again.` : problemOf(note.error)}
        </span>
      </div>
      {sets.length > 0 && (
        <section aria-label="Sets">
          <h2>Sets, by how much of each these pieces would use</h2>
          <ul className="buy-sets">
            {sets.map((set) => (
              <li key={`${set.place} ${set.name}`}>
                <b>{set.name}</b> of {set.place}, {money(set.price)}: {set.used} of {set.size}
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

type BuyRowProps = { row: Worth; advice: Advice; on: boolean; onTurn: () => void };

function BuyRow({ row, advice, on, onTurn }: BuyRowProps) {
  const at = advice.sticks.indexOf(row);
  const brings = advice.pieces
    .map((piece, i) => ({
      title: piece.title,
      from: at === 0 ? piece.off : (advice.sticks[at - 1]?.after[i] ?? null),
      to: row.after[i] ?? 0,
    }))
    .filter(({ from, to }) => from === null || from.toFixed(1) !== to.toFixed(1));
  return (
    <li className={on ? "" : "is-off"}>
      <label>
        <input type="checkbox" className="form-check-input" checked={on} onChange={onTurn} />
        <Strokes hex={row.swatch.hex} pressure="medium" medium={row.medium} />
        <span>
          <b>{row.stick.code}</b> {row.stick.name}
          <span className="hint">
            {row.stick.place}, {money(row.stick.price)}
            {row.cautions.map((caution) => ` · ${caution}`)}
            {row.same.map((other) => ` · the same as ${other.code} of ${other.place}, ${money(other.price)}`)}
          </span>
        </span>
      </label>
      <span className="buy-brings">
        {brings.length === 0
          ? "a little for each"
          : brings.map(({ title, from, to }) => (
              <span key={title}>
                <span className="buy-title">{title}</span> {from === null ? "" : `${from.toFixed(1)} → `}
                {to.toFixed(1)}
              </span>
            ))}
      </span>
    </li>
  );
}

/** What to carry to the till. */
function Cheapest({ found }: { found: Schemas["CheapestPurchase"] }) {
  const parts = [
    ...found.sets.map(
      (set) =>
        `${set.name} of ${set.place} (${money(set.price)}; ${set.covers.map((stick) => stick.code).join(", ")} of its ${set.size})`,
    ),
    ...found.singles.map((stick) => `${stick.code} of ${stick.place} (${money(stick.price)})`),
  ];
  if (parts.length === 0) return null;
  const less = found.alone === null ? 0 : found.alone - found.total;
  return (
    <p className="buy-cheapest" role="note">
      <b>Cheapest: {found.total.toFixed(2)}.</b> {parts.join("; ")}.
      {found.sets.length > 0 && less > 0.005 && ` As singles: ${found.alone?.toFixed(2)}.`}
      {found.sets.length === 0 && found.singles.length > 1 && " No set is cheaper."}
      {found.unpriced.length > 0 &&
        ` Nobody names a price for ${found.unpriced.map((stick) => stick.code).join(", ")}.`}
    </p>
  );
}
