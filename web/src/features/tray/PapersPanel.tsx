import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { type Paper, type SwatchData, server } from "../../api/client";
import { problemOf, useWrite } from "../../api/mutations";
import { useMaterials, usePapers } from "../../api/queries";
import { Confirm } from "../../ui/Confirm";
import { NumberField } from "../../ui/NumberField";
import { Segments } from "../../ui/Segments";
import { Chip } from "../../ui/Swatch";
import { PaperPhoto } from "./PaperPhoto";

const TOOTH: Record<string, number> = { polished: 0.05, smooth: 0.2, fine: 0.4, medium: 0.6, rough: 0.9 };

/** Papers that Caltin knows, the artist's own, and a form for one more. */
export function PapersPanel() {
  const materials = useMaterials();
  const own = usePapers();
  const [leaving, setLeaving] = useState<Paper | null>(null);
  const remove = useWrite(server.deletePaper, ["papers"]);
  return (
    <div className="paper-columns">
      <section aria-label="All papers">
        <ul className="paper-list">
          {own.data?.map((paper) => (
            <PaperRow key={paper.id} paper={paper} onDelete={() => setLeaving(paper)} />
          ))}
          {materials.data?.papers.map((paper) => (
            <PaperRow key={paper.id} paper={paper} />
          ))}
        </ul>
      </section>
      <NewPaper />
      <Confirm
        show={!!leaving}
        title={`Delete the paper “${leaving?.name}”?`}
        text="Pieces on it keep their passes, but say no colours until another paper is chosen."
        action="Delete the paper"
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
      <Chip swatch={paper.swatch} />
      <span className="stick-words">
        {paper.name}{" "}
        <span className="hint">
          {paper.note} Full layers to expect: {takes}.
        </span>
      </span>
      {onDelete && (
        <Button variant="quiet" size="sm" onClick={onDelete} aria-label={`Delete ${paper.name}`}>
          Delete
        </Button>
      )}
    </li>
  );
}

function NewPaper() {
  const media = useMaterials().data?.media ?? [];
  const [name, setName] = useState("");
  const [lab, setLab] = useState<number[]>([96, 0, 1.5]);
  const [tooth, setTooth] = useState("fine");
  const [coats, setCoats] = useState(8);
  const [suits, setSuits] = useState<string[]>(["pencil"]);
  const add = useWrite(server.addPaper, ["papers"], () => setName(""));
  const problem = problemOf(add.error);
  const put = (at: number) => (value: number) => setLab(lab.map((held, i) => (i === at ? value : held)));
  const take = (swatch: SwatchData) => setLab(swatch.lab.map((part) => Math.round(part * 10) / 10));
  const send = (event: React.FormEvent) => {
    event.preventDefault();
    add.mutate({ name, lab, tooth: TOOTH[tooth] ?? 0.5, coats, media: suits });
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
      <div className="field-row">
        <NumberField label="Lightness L*" value={lab[0] ?? 0} low={0} high={100} onSet={put(0)} />
        <NumberField label="a*" value={lab[1] ?? 0} low={-60} high={60} onSet={put(1)} />
        <NumberField label="b*" value={lab[2] ?? 0} low={-60} high={60} onSet={put(2)} />
      </div>
      <PaperPhoto onRead={take} />
      <Form.Label as="span">Surface</Form.Label>
      <Segments label="Surface" choices={Object.keys(TOOTH)} chosen={tooth} onChoose={setTooth} />
      <NumberField label="Coats of marker it takes up" value={coats} low={1} high={20} onSet={setCoats} />
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
