import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { type Paper, type Schemas, type SwatchData, server } from "../../api/client";
import { problemOf, useWrite } from "../../api/mutations";
import { useMaterials, usePapers } from "../../api/queries";
import { Confirm } from "../../ui/Confirm";
import { RemovedList } from "../../ui/LazyRemoved";
import { NumberField } from "../../ui/NumberField";
import { Segments } from "../../ui/Segments";
import { PaperPhoto } from "./PaperPhoto";

/** Papers that Caltin knows, the artist's own, and a form for one more. */
export function PapersPanel() {
  const materials = useMaterials();
  const own = usePapers();
  const [leaving, setLeaving] = useState<Paper | null>(null);
  const remove = useWrite(server.deletePaper, ["papers", "removed"]);
  return (
    <div className="paper-columns">
      <h1 className="visually-hidden">Papers</h1>
      <section aria-label="All papers">
        <ul className="paper-list">
          {own.data?.map((paper) => (
            <PaperRow key={paper.id} paper={paper} onDelete={() => setLeaving(paper)} />
          ))}
          {materials.data?.papers.map((paper) => (
            <PaperRow key={paper.id} paper={paper} />
          ))}
        </ul>
        <RemovedList kind="paper" />
      </section>
      {materials.data && <NewPaper words={materials.data.paper_words} />}
      <Confirm
        show={!!leaving}
        title={`Remove the paper “${leaving?.name}”?`}
        text="Pieces on it keep their passes, but say no colours until another paper is chosen. Trial cards on it go with it, and what they taught. For 30 days it can be put back, below the others."
        action="Remove the paper"
        onConfirm={() => {
          if (leaving) remove.mutate(leaving.id);
          setLeaving(null);
        }}
        onCancel={() => setLeaving(null)}
      />
    </div>
  );
}

function PaperRow({ paper, onDelete }: { paper: Paper; onDelete?: () => void }) {
  const media = useMaterials().data?.media ?? [];
  const takes = media
    .filter((medium) => medium.id in paper.layers)
    .map((medium) => `${medium.word} ${paper.layers[medium.id]}`)
    .join(", ");
  return (
    <li>
      <i
        className="paper-sheet"
        style={{ background: paper.swatch.hex }}
        role="img"
        aria-label={`${paper.swatch.words}, value ${paper.swatch.value.toFixed(1)}`}
      />
      <span className="stick-words">
        {paper.name}{" "}
        <span className="hint">
          {paper.note} Full layers to expect: {takes}.
        </span>
      </span>
      {onDelete && (
        <Button variant="quiet" size="sm" onClick={onDelete} aria-label={`Remove ${paper.name}`}>
          Remove
        </Button>
      )}
    </li>
  );
}

/** A paper in words; its numbers are folded away. */
function NewPaper({ words }: { words: Schemas["PaperWords"] }) {
  const media = useMaterials().data?.media ?? [];
  const [usualShade, usualTooth, usualWeight] = words.usual;
  const labOf = (shade: string) => words.shades.find((row) => row.name === shade)?.lab ?? [96, 0, 1.5];
  const coatsOf = (weight: string) => words.weights.find((row) => row.name === weight)?.number ?? 7;
  const [name, setName] = useState("");
  const [shade, setShade] = useState(usualShade ?? "");
  const [lab, setLab] = useState<number[]>(labOf(shade));
  const [tooth, setTooth] = useState(usualTooth ?? "");
  const [weight, setWeight] = useState(usualWeight ?? "");
  const [coats, setCoats] = useState(coatsOf(weight));
  const [suits, setSuits] = useState<string[]>(["pencil"]);
  const add = useWrite(server.addPaper, ["papers"], () => setName(""));
  const problem = problemOf(add.error);
  const put = (at: number) => (value: number) => {
    setShade("");
    setLab(lab.map((held, i) => (i === at ? value : held)));
  };
  const take = (swatch: SwatchData) => {
    setShade("");
    setLab(swatch.lab.map((part) => Math.round(part * 10) / 10));
  };
  const send = (event: React.FormEvent) => {
    event.preventDefault();
    const number = words.teeth.find((row) => row.name === tooth)?.number ?? 0.5;
    add.mutate({ name, lab, tooth: number, coats, media: suits });
  };
  return (
    <Form onSubmit={send} className="panel-box" aria-label="Add a paper">
      <h2 className="h6">Add a paper of your own</h2>
      <Form.Group controlId="paper-name">
        <Form.Label>Name</Form.Label>
        <Form.Control
          size="sm"
          maxLength={60}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </Form.Group>
      <span>Colour</span>
      <div className="paper-shades">
        {words.shades.map((row) => (
          <button
            key={row.name}
            type="button"
            className="paper-shade"
            aria-pressed={row.name === shade}
            onClick={() => {
              setShade(row.name);
              setLab(row.lab);
            }}
          >
            <i style={{ background: row.swatch.hex }} />
            {row.name}
          </button>
        ))}
      </div>
      <PaperPhoto onRead={take} />
      <span>Surface</span>
      <Segments
        label="Surface"
        choices={words.teeth.map((row) => row.name)}
        chosen={tooth}
        onChoose={setTooth}
      />
      <p className="hint">{words.teeth.find((row) => row.name === tooth)?.hint}</p>
      <span>Weight</span>
      <Segments
        label="Weight"
        choices={words.weights.map((row) => row.name)}
        chosen={weight}
        onChoose={(next) => {
          setWeight(next);
          setCoats(coatsOf(next));
        }}
      />
      <p className="hint">{words.weights.find((row) => row.name === weight)?.hint}</p>
      <fieldset className="checks">
        <legend>Good for</legend>
        {media.map((medium) => (
          <Form.Check
            key={medium.id}
            id={`suits-${medium.id}`}
            label={medium.name}
            checked={suits.includes(medium.id)}
            onChange={(event) =>
              setSuits(
                event.target.checked ? [...suits, medium.id] : suits.filter((held) => held !== medium.id),
              )
            }
          />
        ))}
      </fieldset>
      <details>
        <summary>in numbers</summary>
        <div className="field-row">
          <NumberField label="Lightness L*" value={lab[0] ?? 0} low={0} high={100} onSet={put(0)} />
          <NumberField label="a*" value={lab[1] ?? 0} low={-60} high={60} onSet={put(1)} />
          <NumberField label="b*" value={lab[2] ?? 0} low={-60} high={60} onSet={put(2)} />
        </div>
        <NumberField label="Coats of marker it takes up" value={coats} low={1} high={20} onSet={setCoats} />
      </details>
      {problem && (
        <p className="problem" role="alert">
          {problem}
        </p>
      )}
      <Button variant="act" type="submit" disabled={!name.trim() || suits.length === 0}>
        Add this paper
      </Button>
    </Form>
  );
}
