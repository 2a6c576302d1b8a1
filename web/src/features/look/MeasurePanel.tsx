import { Button, Form } from "react-bootstrap";
import { Link } from "react-router";
import type { PieceDocument } from "../../api/client";
import { useLimits, useMaterials } from "../../api/queries";
import { useEditor, usePiece } from "../../document/useEditor";
import { NumberField } from "../../ui/NumberField";
import { Segments } from "../../ui/Segments";
import { Slider } from "../../ui/Slider";
import { inWords, type Kind } from "./measures";

const KINDS: { kind: Kind; name: string; hint: string }[] = [
  { kind: "caliper", name: "Caliper", hint: "Pull from one end of a length to the other." },
  { kind: "plumb", name: "Plumb", hint: "Pull along what ought to be upright." },
  { kind: "level", name: "Level", hint: "Pull along what ought to be level, such as the eyes." },
  { kind: "cross", name: "Cross", hint: "Click where the centre cross belongs." },
  { kind: "ray", name: "Angle", hint: "Pull from the cross to a point: its angle, 0° right, 90° up." },
];

type Props = {
  kind: Kind;
  onKind: (kind: Kind) => void;
  chosen: string | null;
  onChoose: (id: string) => void;
  onRemove: (id: string) => void;
};

/** The measures taken, the grid, and the sheet. */
export function MeasurePanel({ kind, onKind, chosen, onChoose, onRemove }: Props) {
  const piece = usePiece();
  const { edit } = useEditor();
  const limits = useLimits();
  const { marks, unit, cross, grid } = piece.document;
  const change = (part: Partial<PieceDocument>) => edit((held) => ({ ...held, ...part }));
  return (
    <>
      <section className="panel-box" aria-label="Measuring">
        <Segments
          label="What to measure"
          choices={KINDS.map((row) => row.kind)}
          chosen={kind}
          onChoose={onKind}
          say={(id) => KINDS.find((row) => row.kind === id)?.name}
        />
        <p className="hint">
          {marks.length >= (limits.marks ?? Number.POSITIVE_INFINITY)
            ? `There are ${limits.marks} measures, the most there can be: remove some first.`
            : KINDS.find((row) => row.kind === kind)?.hint}
        </p>
        <ol className="measure-list" aria-label="Measures">
          {marks.map((mark, i) => {
            const measured = piece.found.measured.find((row) => row.id === mark.id);
            return (
              <li key={mark.id} className={mark.id === chosen ? "is-selected" : ""}>
                <button type="button" onClick={() => onChoose(mark.id)}>
                  <span className="numbers">{i + 1}</span> {KINDS.find((row) => row.kind === mark.kind)?.name}
                  : <b className="numbers">{inWords(mark, measured)}</b>
                  {measured && mark.kind === "caliper" && (
                    <small className="numbers">
                      {" "}
                      {measured.pixels.toFixed(0)} px, {measured.mm.toFixed(1)} mm on paper
                    </small>
                  )}
                </button>
                {mark.id === chosen && (
                  <span className="tools">
                    {mark.kind === "caliper" && (
                      <Button
                        variant={unit === mark.id ? "chosen" : "quiet"}
                        size="sm"
                        aria-pressed={unit === mark.id}
                        onClick={() => change({ unit: unit === mark.id ? null : mark.id })}
                      >
                        Unit
                      </Button>
                    )}
                    <Button variant="quiet" size="sm" onClick={() => onRemove(mark.id)}>
                      Remove
                    </Button>
                  </span>
                )}
              </li>
            );
          })}
        </ol>
        {cross && (
          <Button variant="quiet" size="sm" onClick={() => change({ cross: null })}>
            Remove the cross
          </Button>
        )}
      </section>
      <section className="panel-box" aria-label="Grid">
        <Form.Check
          type="switch"
          id="grid"
          label="Grid"
          checked={grid !== null}
          onChange={(event) =>
            change({ grid: event.target.checked ? { columns: 4, rows: 5, diagonals: false } : null })
          }
        />
        {grid && (
          <div className="field-row">
            {(["columns", "rows"] as const).map((side) => (
              <NumberField
                key={side}
                label={side}
                value={grid[side]}
                low={1}
                high={40}
                onSet={(count) => change({ grid: { ...grid, [side]: Math.round(count) } })}
              />
            ))}
            <Form.Check
              type="switch"
              id="diagonals"
              label="diagonals"
              checked={grid.diagonals}
              onChange={(event) => change({ grid: { ...grid, diagonals: event.target.checked } })}
            />
          </div>
        )}
      </section>
      <SheetBox change={change} />
    </>
  );
}

function SheetBox({ change }: { change: (part: Partial<PieceDocument>) => void }) {
  const piece = usePiece();
  const materials = useMaterials();
  const sheet = piece.document.format;
  const sizes = materials.data?.sheets ?? [];
  const upright = sheet.height_mm >= sheet.width_mm;
  const named = sizes.find(
    (row) =>
      Math.min(sheet.width_mm, sheet.height_mm) === row.width_mm &&
      Math.max(sheet.width_mm, sheet.height_mm) === row.height_mm,
  );
  const set = (part: Partial<PieceDocument["format"]>) => change({ format: { ...sheet, ...part } });
  const size = (width_mm: number, height_mm: number, tall: boolean) =>
    set(tall ? { width_mm, height_mm } : { width_mm: height_mm, height_mm: width_mm });
  const place = piece.found.placement;
  const cropped =
    place &&
    (place.crop[0] ?? 0) + (place.crop[1] ?? 0) + 2 - (place.crop[2] ?? 1) - (place.crop[3] ?? 1) > 1e-6;
  const widest = Math.floor(Math.min(sheet.width_mm, sheet.height_mm) / 2 - 10);
  const side = (name: "width_mm" | "height_mm" | "margin_mm") => (mm: number) => set({ [name]: mm });
  return (
    <section className="panel-box" aria-label="Sheet">
      <h2 className="h6">On the sheet</h2>
      <div className="field-row">
        <Form.Select
          size="sm"
          aria-label="Size of the sheet"
          value={named?.name ?? ""}
          onChange={(event) => {
            const row = sizes.find((candidate) => candidate.name === event.target.value);
            if (row) size(row.width_mm, row.height_mm, upright);
          }}
        >
          {!named && <option value="">Own size</option>}
          {sizes.map((row) => (
            <option key={row.name}>{row.name}</option>
          ))}
        </Form.Select>
        <Button
          variant="quiet"
          size="sm"
          onClick={() => set({ width_mm: sheet.height_mm, height_mm: sheet.width_mm })}
        >
          Turn
        </Button>
      </div>
      <div className="field-row is-three">
        <NumberField label="wide, mm" value={sheet.width_mm} low={40} high={2000} onSet={side("width_mm")} />
        <NumberField
          label="high, mm"
          value={sheet.height_mm}
          low={40}
          high={2000}
          onSet={side("height_mm")}
        />
        <NumberField label="margin" value={sheet.margin_mm} low={0} high={widest} onSet={side("margin_mm")} />
      </div>
      <div className="field-row">
        <Form.Select
          size="sm"
          aria-label="How the reference sits on the sheet"
          value={sheet.fit}
          onChange={(event) => set({ fit: event.target.value as "whole" | "fill" })}
        >
          <option value="whole">All of the reference</option>
          <option value="fill">Fill the sheet, crop the rest</option>
        </Form.Select>
      </div>
      <Slider
        label={cropped ? "Which part stays" : "Where it sits"}
        low={0}
        high={1}
        step={0.05}
        value={sheet.shift_x}
        onSet={(shift) => set({ shift_x: shift, shift_y: shift })}
      />
      {place && (
        <p className="hint numbers">
          {place.width_mm.toFixed(0)} × {place.height_mm.toFixed(0)} mm on the paper
          {cropped ? ", cropped" : ""}.
        </p>
      )}
      <Link className="btn btn-quiet btn-sm" to={`/pieces/${piece.id}/transfer`}>
        Transfer page
      </Link>
    </section>
  );
}
