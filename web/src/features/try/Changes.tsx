import { Button } from "react-bootstrap";
import { Link } from "react-router";
import type { Figure, Schemas, Trials } from "../../api/client";
import { useLayers, usePlans, useSticks } from "../../api/queries";
import { counted } from "../../document/layers";
import { useEditing, useEditor, usePiece } from "../../document/useEditor";
import { useNoun } from "../../ui/useNoun";

const TELLS = 0.4;

/** Which plans would be others now: of this piece in sticks and nearness, of other pieces by their names. */
export function Changes({ trials }: { trials: Trials }) {
  const piece = usePiece();
  const figures = piece.document.figures.filter((figure) =>
    piece.document.spots.some((spot) => spot.figure === figure.id),
  );
  const planned = piece.document.layers.length > 0;
  const said = useLayers(piece.id, piece.keys.layers, planned).data;
  if (!planned)
    return (
      <p>
        What is planned from now on is planned by this.{" "}
        <Link to={`/pieces/${piece.id}/mix`}>Plan the layers</Link>
      </p>
    );
  return (
    <>
      {figures.map((figure) => {
        const mine = said?.figures.find((row) => row.id === figure.id);
        return mine && <Change key={figure.id} figure={figure} said={mine} several={figures.length > 1} />;
      })}
      {trials.pieces.length > 0 && (
        <p className="hint">
          Foreseen by this, too:{" "}
          {trials.pieces.map((other, i) => (
            <span key={other.id}>
              {i > 0 && ", "}
              <Link to={`/pieces/${other.id}/mix`}>{other.title}</Link>
            </span>
          ))}
        </p>
      )}
    </>
  );
}

type Props = {
  figure: Figure;
  said: Schemas["FigureAsItIs"];
  several: boolean;
};

function Change({ figure, said, several }: Props) {
  const piece = usePiece();
  const { plan } = useEditor();
  const busy = useEditing((state) => state.busy);
  const noun = useNoun([], piece.document.setup.medium);
  const { data, error } = usePlans(piece.id, piece.keys.palette, figure.id, true);
  const count = said.layers.length;
  const anew = data?.plans.reduce((held, row) =>
    Math.abs(row.layers.length - count) < Math.abs(held.layers.length - count) ? row : held,
  );
  const whose = several ? `${figure.name}: ` : "";
  if (error || said.trouble)
    return <p className="problem">{said.trouble || `${whose}no plan can be made.`}</p>;
  if (!anew || !said.planned) return <p className="hint">{whose}looking what a new plan would be …</p>;
  const now = said.layers.map(
    (row) => piece.document.layers.find((layer) => layer.id === row.id)?.stick ?? "",
  );
  const next = anew.layers.map((row) => row.layer.stick);
  const nearer = said.planned.expected.by_hand - anew.expected.by_hand;
  const others = next.filter((stick) => !now.includes(stick)).length;
  if (nearer < TELLS)
    return (
      <p>
        {whose}the plan of {count} layers still holds: <b>{said.planned.words.by_hand}</b>. A new one would
        come no nearer.
      </p>
    );
  return (
    <div className="try-change">
      <p>
        {whose}the plan as it is ends <b>{said.planned.words.by_hand}</b>; a new one{" "}
        <b>{anew.words.by_hand === said.planned.words.by_hand ? "nearer" : anew.words.by_hand}</b>, with{" "}
        {others === 0 ? `the same ${noun}s` : counted(others, `other ${noun}`)}.
      </p>
      <dl>
        <dt>now</dt>
        <dd>
          <Row sticks={now} others={next} />
        </dd>
        <dt>anew</dt>
        <dd>
          <Row sticks={next} others={now} />
        </dd>
      </dl>
      <Button variant="quiet" size="sm" disabled={busy} onClick={() => plan([figure.id], count)}>
        {busy ? "planning …" : "plan anew"}
      </Button>{" "}
      <span className="hint">or keep it</span>
    </div>
  );
}

/** Sticks in working order; those that the other plan has not are marked. */
function Row({ sticks, others }: { sticks: string[]; others: string[] }) {
  const { document } = usePiece();
  const { sticks: held } = useSticks(document.tray);
  return (
    <ol className="try-row">
      {sticks.map((code, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a stick may come twice, in its place
        <li key={i} className={others.includes(code) ? undefined : "is-other"}>
          <i style={{ background: held.find((stick) => stick.code === code)?.hex }} aria-hidden="true" />
          {code}
        </li>
      ))}
    </ol>
  );
}
