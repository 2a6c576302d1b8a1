import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { type Palette, type Schemas, type Stick, server } from "../../api/client";
import { problemOf, useWrite } from "../../api/mutations";
import { useAhead, useMaterials, usePalette } from "../../api/queries";
import { counted } from "../../document/layers";
import { useEditing, useEditor, usePiece } from "../../document/useEditor";
import { Folded } from "../../ui/Folded";
import { Segments } from "../../ui/Segments";
import { Slider } from "../../ui/Slider";
import { LaidColour, Pair, StickDot } from "../../ui/Swatch";
import { useNoun } from "../../ui/useNoun";

/** How much farther off a colour may be, in ΔE00, and what that is called. */
const WITHIN: readonly (readonly [number, string])[] = [
  [0.5, "hardly anything"],
  [1, "a little"],
  [2, "what just shows"],
  [3, "what shows"],
];
const SMALLEST = 2;
const LARGEST = 20;
const FIT_SAID: Record<string, string> = { clip: "to the edge of reach", compress: "all drawn together" };

/** One palette for the piece: the best of a size or the smallest that holds it, what each stick is worth,
 * what must be in, what must not, and what to buy. */
export function PalettePanel({ sticks }: { sticks: Stick[] }) {
  const piece = usePiece();
  const { edit } = useEditor();
  const { setup } = piece.document;
  const [size, setSize] = useState(setup.max_sticks || 8);
  const [within, setWithin] = useState<number | null>(null);
  const found = usePalette(piece.id, piece.keys.palette, within === null ? { size } : { within });
  const set = (part: Partial<Schemas["Setup"]>) =>
    edit((document) => ({ ...document, setup: { ...document.setup, ...part } }));
  const media = useMaterials().data?.media ?? [];
  const over = media.find((row) => row.id === setup.medium)?.over ?? [];
  const owned = new Set(sticks.map((stick) => stick.medium));
  const beneath = media.filter((row) => over.includes(row.id) && owned.has(row.id) && !row.finishing);
  const finishes = useMaterials().data?.methods.find((row) => row.id === setup.method)?.finishes ?? [];
  const noun = useNoun([], piece.document.setup.medium);
  const usable = sticks.filter((stick) => stick.medium === setup.medium).length;
  const largest = Math.min(LARGEST, Math.max(SMALLEST, usable));
  const beside = [size + 1, size - 1].filter((next) => next >= SMALLEST && next <= largest);
  useAhead(piece.id, piece.keys.palette, beside, within === null && !found.isFetching);
  return (
    <div className="palette-panel">
      <div className="tools">
        <Slider
          label={`Best ${size} ${noun}s`}
          low={SMALLEST}
          high={largest}
          value={size}
          onSet={(value) => {
            setWithin(null);
            setSize(value);
          }}
        />
        <span className="hint">or the fewest that lose</span>
        <Segments
          label="The fewest that lose"
          choices={WITHIN.map(([most]) => most)}
          chosen={within ?? -1}
          say={(choice) => WITHIN.find(([most]) => most === choice)?.[1]}
          hint={(choice) => `ΔE00 ${choice}`}
          onChoose={setWithin}
        />
      </div>
      {found.error && (
        <p className="problem" role="alert">
          {found.error.message}
        </p>
      )}
      <fieldset className="tools">
        <legend className="h6">How it is finished</legend>
        {finishes.length > 1 && (
          <Segments
            label="How it is finished"
            choices={finishes.map((row) => row.id)}
            chosen={setup.finish}
            say={(choice) => finishes.find((row) => row.id === choice)?.words ?? choice}
            onChoose={(finish) => set({ finish })}
          />
        )}
        <Form.Check
          type="switch"
          id="reserve"
          label="Keep highlights free"
          checked={setup.reserve}
          onChange={(event) => set({ reserve: event.target.checked })}
        />
        <Form.Check
          type="switch"
          id="one-shadow"
          label={`One ${noun} in all shadows`}
          checked={setup.one_shadow}
          onChange={(event) => set({ one_shadow: event.target.checked })}
        />
      </fieldset>
      {beneath.length > 0 && (
        <fieldset className="tools">
          <legend className="h6">What lies beneath, in plans in layers</legend>
          <Segments
            label="What lies beneath"
            choices={["", ...beneath.map((row) => row.id)]}
            chosen={setup.under}
            say={(choice) => beneath.find((row) => row.id === choice)?.name ?? "only paper"}
            onChoose={(under) => set({ under })}
          />
        </fieldset>
      )}
      <fieldset className="tools">
        <legend className="h6">What lies beyond reach</legend>
        <Segments
          label="What lies beyond reach"
          choices={Object.keys(FIT_SAID)}
          chosen={setup.fit}
          say={(choice) => FIT_SAID[choice] ?? choice}
          onChoose={(fit) => set({ fit: fit as Schemas["Setup"]["fit"] })}
        />
      </fieldset>
      {found.data && <Held palette={found.data} sticks={sticks} set={set} />}
      {found.data && <Buy palette={found.data} />}
    </div>
  );
}

type HeldProps = { palette: Palette; sticks: Stick[]; set: (part: Partial<Schemas["Setup"]>) => void };

function Held({ palette, sticks, set }: HeldProps) {
  const piece = usePiece();
  const busy = useEditing((state) => state.busy);
  const noun = useNoun([], piece.document.setup.medium);
  const { must_use: kept, banned, max_sticks } = piece.document.setup;
  const without = (codes: string[], code: string) => codes.filter((held) => held !== code);
  const known = (code: string) => sticks.find((stick) => stick.code === code);
  return (
    <>
      <p className="verdict">
        <span>
          {counted(palette.sticks.length, noun)} in place of the whole tray: <b>{palette.farther}</b> farther
          off.
        </span>
        <Button
          variant="act"
          size="sm"
          disabled={busy || max_sticks === palette.sticks.length}
          onClick={() => set({ max_sticks: palette.sticks.length })}
        >
          Work with {palette.sticks.length}
        </Button>
      </p>
      <ul className="palette-list" aria-label="Palette of the piece">
        {palette.sticks.map((row) => {
          const stick = known(row.code);
          return (
            <li key={row.code}>
              {stick && <LaidColour swatch={stick.swatch} medium={stick.medium} />}
              <span className="stick-words">
                <b className="numbers">{row.code}</b> {stick?.name}
              </span>
              <span className="hint">{row.missed} missed</span>
              <Button
                size="sm"
                variant={kept.includes(row.code) ? "chosen" : "quiet"}
                aria-pressed={kept.includes(row.code)}
                aria-label={`${stick?.name} must be in`}
                onClick={() =>
                  set({ must_use: kept.includes(row.code) ? without(kept, row.code) : [...kept, row.code] })
                }
              >
                keep
              </Button>
              <Button
                size="sm"
                variant="quiet"
                aria-label={`Do without ${stick?.name}`}
                onClick={() => set({ banned: [...banned, row.code], must_use: without(kept, row.code) })}
              >
                without
              </Button>
            </li>
          );
        })}
      </ul>
      <Folded word="numbers">
        <p className="hint numbers">
          ΔE00 a spot in the mean: {palette.mean.toFixed(1)} with these, {palette.mean_of_all.toFixed(1)} with
          the whole tray; more without one of them:{" "}
          {palette.sticks.map((row) => `${row.code} +${row.loss.toFixed(2)}`).join(", ")}.
        </p>
      </Folded>
      {banned.length > 0 && (
        <p>
          Without:{" "}
          {banned.map((code) => (
            <Button
              key={code}
              size="sm"
              variant="quiet"
              aria-label={`Allow ${known(code)?.name ?? code} again`}
              onClick={() => set({ banned: without(banned, code) })}
            >
              <StickDot hex={known(code)?.hex ?? "transparent"} /> {known(code)?.name ?? code} ×
            </Button>
          ))}
        </p>
      )}
    </>
  );
}

/** The sticks that would help most, and how each could be mixed from what is there. */
function Buy({ palette }: { palette: Palette }) {
  if (palette.buy.length === 0) return null;
  return (
    <section aria-label="What would help most">
      <h2 className="h6">What would help most</h2>
      <ul className="palette-list">
        {palette.buy.map((row) => (
          <Wish key={row.code} row={row} />
        ))}
      </ul>
    </section>
  );
}

function Wish({ row }: { row: Palette["buy"][number] }) {
  const piece = usePiece();
  const mix = useWrite(() => server.missing(piece.id, row.code));
  const problem = problemOf(mix.error, "");
  const { target, result } = mix.data?.outcome ?? {};
  return (
    <li>
      <LaidColour swatch={row.swatch} medium={piece.document.setup.medium} />
      <span className="stick-words">
        {row.name} <span className="hint">{row.range}</span>
      </span>
      <span className="hint" title={`ΔE00 ${row.gain.toFixed(2)} a spot`}>
        helps {row.helps}
      </span>
      {!mix.data && !problem && (
        <Button size="sm" variant="quiet" disabled={mix.isPending} onClick={() => mix.mutate(undefined)}>
          mix it instead
        </Button>
      )}
      {problem && <span role="alert">{problem}</span>}
      {mix.data && target && result && (
        <span className="mixed">
          <Pair target={target} result={result} />{" "}
          <span className="numbers">
            {mix.data.passes.map((pass) => `${pass.stick} ${pass.pressure} ${pass.repeats}×`).join(", ")}
          </span>
        </span>
      )}
    </li>
  );
}
