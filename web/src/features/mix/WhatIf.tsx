import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { Figure, Schemas, Stick } from "../../api/client";
import { useMethods, useTried } from "../../api/queries";
import { counted, inWords, type Layer } from "../../document/layers";
import { useEditing, useEditor, usePiece } from "../../document/useEditor";
import { Strokes } from "../../ui/Strokes";
import { Face } from "./Face";

type Change = Pick<Schemas["TryPlansRequest"], "method" | "banned" | "must_use" | "max_sticks">;

type Props = {
  figure: Figure;
  layers: Layer[];
  said: Schemas["FigureAsItIs"];
  gives: Record<string, string>;
  sticks: Stick[];
  word: string;
  onClose: () => void;
};

/** The plan beside another one: one stick fewer, without or with a certain stick, of another school. */
export function WhatIf({ figure, layers, said, gives, sticks, word, onClose }: Props) {
  const { setup } = usePiece().document;
  const methods = useMethods(setup.medium, setup.method, true);
  const used = [...new Set(layers.map((layer) => layer.stick))].filter((code) =>
    sticks.some((stick) => stick.code === code),
  );
  const others = sticks.filter((stick) => stick.medium === setup.medium && !used.includes(stick.code));
  const [change, setChange] = useState<Change | null>(null);
  const [kind, setKind] = useState("");
  const name = (code: string) => `${code} ${sticks.find((stick) => stick.code === code)?.name ?? ""}`;
  const choose = (next: string) => {
    setKind(next);
    // Fewer is all there is to say; the others want to know which.
    setChange(next === "fewer" ? { max_sticks: Math.max(1, used.length - 1) } : null);
  };
  return (
    <section
      className="over-screen what-if"
      aria-label="The plan beside another"
      onKeyDown={(event) => event.key === "Escape" && onClose()}
    >
      <header>
        <h3 className="h4">What if …</h3>
        <Form.Select
          autoFocus
          size="sm"
          aria-label="What if"
          value={kind}
          onChange={(event) => choose(event.target.value)}
        >
          <option value="">choose …</option>
          {used.length > 1 && <option value="fewer">one {word} fewer</option>}
          <option value="without">without one {word}</option>
          {others.length > 0 && <option value="with">with one {word} more</option>}
          {methods.length > 1 && <option value="school">another school</option>}
        </Form.Select>
        {kind === "without" && (
          <Form.Select
            size="sm"
            aria-label="Without"
            value={change?.banned?.at(-1) ?? ""}
            onChange={(event) => setChange({ banned: [...setup.banned, event.target.value] })}
          >
            <option value="">which?</option>
            {used.map((code) => (
              <option key={code} value={code}>
                {name(code)}
              </option>
            ))}
          </Form.Select>
        )}
        {kind === "with" && (
          <Form.Select
            size="sm"
            aria-label="With"
            value={change?.must_use?.at(-1) ?? ""}
            onChange={(event) => setChange({ must_use: [...setup.must_use, event.target.value] })}
          >
            <option value="">which?</option>
            {others.map((stick) => (
              <option key={stick.code} value={stick.code}>
                {name(stick.code)}
              </option>
            ))}
          </Form.Select>
        )}
        {kind === "school" && (
          <Form.Select
            size="sm"
            aria-label="School"
            value={change?.method ?? ""}
            onChange={(event) => setChange({ method: event.target.value })}
          >
            <option value="">which?</option>
            {methods
              .filter((row) => row.id !== setup.method)
              .map((row) => (
                <option key={row.id} value={row.id}>
                  {row.name}
                </option>
              ))}
          </Form.Select>
        )}
        <Button variant="quiet" size="sm" onClick={onClose}>
          leave it
        </Button>
      </header>
      <div className="beside">
        <One
          title="As it is"
          figure={figure}
          words={said.planned?.words.by_hand ?? ""}
          gives={gives}
          sticks={sticks}
          layers={layers.map((layer) => ({
            layer,
            most: said.layers.find((row) => row.id === layer.id)?.most ?? {
              pressure: "light",
              repeats: 1,
              flicked: false,
            },
          }))}
        />
        {change && (
          <Other
            count={layers.length}
            key={JSON.stringify(change)}
            figure={figure}
            change={change}
            sticks={sticks}
            onClose={onClose}
          />
        )}
      </div>
    </section>
  );
}

type OneProps = {
  title: string;
  figure: Figure;
  words: string;
  gives: Record<string, string>;
  layers: Pick<Schemas["SaidLayer"], "layer" | "most">[];
  sticks: Stick[];
};

function One({ title, figure, words, gives, layers, sticks }: OneProps) {
  return (
    <div>
      <h4 className="h6">
        {title}: {counted(layers.length, "layer")}, {words}
      </h4>
      <Face figure={figure.id} gives={gives} alt={`The face: ${title}`} />
      <ol className="small-layers">
        {layers.map(({ layer, most }) => {
          const stick = sticks.find((row) => row.code === layer.stick);
          return (
            <li key={layer.id}>
              <Strokes hex={stick?.swatch.hex ?? "#808080"} pressure={most.pressure} medium={stick?.medium} />
              <span>
                <b>{layer.stick}</b> {stick?.name},{" "}
                {inWords(most, layer.technique, stick?.medium === "marker")}
              </span>
            </li>
          );
        })}
      </ol>
    </div>
  );
}

function Other(props: {
  count: number;
  figure: Figure;
  change: Change;
  sticks: Stick[];
  onClose: () => void;
}) {
  const { count, figure, change, sticks, onClose } = props;
  const piece = usePiece();
  const { edit, take } = useEditor();
  const busy = useEditing((state) => state.busy);
  const { data, error } = useTried(piece.id, piece.keys.palette, {
    figure: figure.id,
    first: false,
    most: 0,
    ...change,
  });
  if (error)
    return (
      <p className="problem" role="alert">
        {error.message}
      </p>
    );
  // As many layers as now, or as near to that as there are: what differs then is the change alone.
  const plan = data?.plans.reduce((held, row) =>
    Math.abs(row.layers.length - count) < Math.abs(held.layers.length - count) ? row : held,
  );
  if (!plan) return <p aria-live="polite">Planning it the other way …</p>;
  return (
    <div>
      <One
        title="So"
        figure={figure}
        words={plan.words.by_hand}
        gives={plan.gives}
        layers={plan.layers}
        sticks={sticks}
      />
      <Button
        variant="act"
        disabled={busy}
        onClick={() => {
          edit((held) => ({ ...held, setup: { ...held.setup, ...(change as Partial<Schemas["Setup"]>) } }));
          take(
            figure.id,
            plan.layers.map((row) => row.layer),
          );
          onClose();
        }}
      >
        Use this one
      </Button>
    </div>
  );
}
