import { useState } from "react";
import { Button } from "react-bootstrap";
import { Link } from "react-router";
import { type AroundWay, aroundUrl, useAround } from "../../api/around";
import type { Schemas } from "../../api/client";
import { useLimits } from "../../api/queries";
import { useEditor, usePiece } from "../../document/useEditor";
import { EmptyPage } from "../../ui/EmptyPage";
import { Trouble } from "../../ui/Failed";
import { type At, Handles } from "../../ui/Handles";
import { useKeys } from "../../ui/keys";
import { Region, type Surrounding } from "./Region";
import "./around.css";

const WAYS: Record<AroundWay, string> = {
  where: "where they are",
  as_it_is: "as it is",
  white: "skin on white",
  inside: "skin inside",
};
const KINDS: Surrounding["kind"][] = ["hair", "cloth", "ground"];
const MOST_POINTS = 13;
const RADIUS = 0.012;

const newId = () => crypto.randomUUID().slice(0, 13);

/** Hair, cloth and ground: regions with ramps of their own, and the skin inside them. */
export function AroundPage() {
  const piece = usePiece();
  const { edit } = useEditor();
  const limits = useLimits();
  const regions = piece.document.surroundings;
  const around = useAround(piece.id, piece.keys.surroundings);
  const [picked, setPicked] = useState<string | null>(null);
  const [way, setWay] = useState<AroundWay>("where");
  const current = regions.find((row) => row.id === picked) ?? regions[0];
  const put = (next: Surrounding[]) => edit((held) => ({ ...held, surroundings: next }));
  const change = (id: string, part: Partial<Surrounding>) =>
    put(regions.map((row) => (row.id === id ? { ...row, ...part } : row)));
  const points: At[] = current ? [[current.x, current.y], ...(current.more as At[])] : [];
  const move = (to: At[]) => {
    const [first, ...more] = to;
    if (current && first) change(current.id, { x: first[0], y: first[1], more });
  };
  const full = regions.length >= (limits.surroundings ?? 6);
  const begin = (kind: Surrounding["kind"], name: string, x: number, y: number): Surrounding => ({
    id: newId(),
    name,
    kind,
    x,
    y,
    radius: RADIUS,
    more: [],
    reach: 0.6,
    shade: "darker",
    layers: [],
  });
  const add = (kind: Surrounding["kind"]) => {
    const row = begin(kind, kind, 0.5, 0.5);
    put([...regions, row]);
    setPicked(row.id);
    setWay("where");
  };
  const said = around.data;
  const ways = (Object.keys(WAYS) as AroundWay[]).filter((row) => row !== "where" || regions.length > 0);
  const shown = ways.includes(way) ? way : "as_it_is";
  useKeys([
    {
      key: "v",
      does: "See the picture in another way",
      run: () => setWay(ways[(ways.indexOf(shown) + 1) % ways.length] ?? "as_it_is"),
    },
  ]);
  if (!piece.picture)
    return (
      <EmptyPage
        title="Nothing around it yet"
        text="Hair, cloth and ground are told in the reference: put in a picture first."
        to={`/pieces/${piece.id}/look`}
        deed="Put in a picture"
      />
    );
  const offers = said?.offers ?? [];
  const find = () => {
    const rows = offers
      .slice(0, (limits.surroundings ?? 6) - regions.length)
      .map((row) => begin(row.kind, row.name, row.x, row.y));
    put([...regions, ...rows]);
    setPicked(rows[0]?.id ?? null);
  };
  const url = aroundUrl(piece.id, shown, said?.key ?? piece.keys.surroundings);
  const names = points.map((_, i) => `Point ${i + 1} of ${current?.name ?? ""}`);
  return (
    <main className="around">
      <section className="around-picture" aria-label="The picture with its regions">
        <Handles
          url={url}
          alt={`The picture, ${WAYS[shown]}`}
          width={piece.picture.width}
          height={piece.picture.height}
          points={shown === "white" || shown === "inside" ? [] : points}
          names={names}
          onMove={move}
          onTap={
            current && points.length < MOST_POINTS
              ? (at) => change(current.id, { more: [...(current.more as At[]), at] })
              : undefined
          }
        />
        <div className="word-choices">
          {ways.map((row) => (
            <button key={row} type="button" aria-pressed={row === shown} onClick={() => setWay(row)}>
              {WAYS[row]}
            </button>
          ))}
        </div>
        {said && said.looks.length > 0 && shown === "inside" && (
          <ul className="around-said">
            {said.looks.map((row) => (
              <li key={row}>{row}</li>
            ))}
          </ul>
        )}
      </section>
      <section className="around-do" aria-label="Hair, cloth and ground">
        <h1>Hair, cloth and ground</h1>
        {regions.length === 0 ? (
          <p>
            Skin alone on white looks darker than it is, and a head can melt into its ground. Say what
            surrounds it: each region gets a ramp of its own, light and shade, from a few colours.
          </p>
        ) : (
          <Verdict said={said} />
        )}
        {around.error && <Trouble error={around.error} onAgain={() => void around.refetch()} />}
        {around.isPending && <p className="hint">Looking at what is around the skin …</p>}
        {regions.map((row) => (
          <Region
            key={row.id}
            region={row}
            told={said?.regions.find((one) => one.id === row.id)}
            open={row.id === current?.id}
            onOpen={() => setPicked(row.id)}
            onChange={(part) => change(row.id, part)}
            onRemove={() => put(regions.filter((one) => one.id !== row.id))}
          />
        ))}
        <div className="around-deeds">
          {regions.length === 0 && offers.length > 0 && (
            <Button variant="act" className="btn-deed" onClick={find}>
              Find them
            </Button>
          )}
          {!full &&
            KINDS.map((kind) => (
              <Button key={kind} variant="quiet" onClick={() => add(kind)}>
                add {kind}
              </Button>
            ))}
          {full && <span className="hint">A piece has {limits.surroundings} regions at most.</span>}
          <Link
            className={regions.length ? "btn btn-act btn-deed" : "btn btn-quiet"}
            to={`/pieces/${piece.id}/mix`}
          >
            Back to the layers
          </Link>
        </div>
        {said?.caution && <p className="hint">{said.caution}</p>}
      </section>
    </main>
  );
}

function Verdict({ said }: { said: Schemas["AroundShown"] | undefined }) {
  if (!said) return null;
  return (
    <>
      {!said.skin && (
        <p className="notice" role="note">
          No skin is found in this picture, so nothing is said of how it looks in here. Paint it in Look.
        </p>
      )}
      {said.melting.map((row) => (
        <p key={row.said} className="notice" role="note">
          {row.said}
        </p>
      ))}
      {said.raised.map((row) => (
        <p key={row} className="notice" role="note">
          {row}
        </p>
      ))}
      {said.melting.length === 0 && <p>No two areas melt into each other.</p>}
      {said.shared && <p className="hint">{said.shared}</p>}
    </>
  );
}
