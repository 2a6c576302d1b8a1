import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Link, useNavigate, useSearchParams } from "react-router";
import { Refusal, server } from "../../api/client";
import { type SheetKind, save } from "../../api/files";
import { problemOf } from "../../api/mutations";
import { useMaterials } from "../../api/queries";
import { savesDone } from "../../document/useEditor";
import { useKeys } from "../../ui/keys";
import { Segments } from "../../ui/Segments";
import { useSettled } from "../../ui/useSettled";
import { Jobs } from "./Jobs";
import { Kept } from "./Kept";
import { LightSliders } from "./LightSliders";
import { Places } from "./Places";
import { SkinSliders } from "./SkinSliders";
import { Stage } from "./Stage";
import { MOST_SITTERS, type Scene, sceneOf, sitter, withSitter, withSkin } from "./scene";
import { useScene } from "./useScene";
import "./complexions.css";

const TOLD_AFTER_MS = 250;
const MAP_SIDES = [80, 120, 160, 200, 280];
const SHOWN = {
  head: "head",
  bust: "head and shoulders",
  "hand-flat": "hand, flat",
  "hand-bent": "hand, bent",
} as const;
const NUMBERS = [
  "none",
  "one",
  "two",
  "three",
  "four",
  "five",
  "six",
  "seven",
  "eight",
  "nine",
  "ten",
  "eleven",
  "twelve",
];

/** A complexion described, a light set, a study head that turns; by itself or for a piece. */
export function ComplexionsPage({ artist }: { artist: string }) {
  const [asked] = useSearchParams();
  const id = asked.get("piece");
  const piece = useQuery({
    queryKey: ["piece for its light", id],
    // What was drawn just before is to be part of it.
    queryFn: () => savesDone().then(() => server.piece(id ?? "")),
    enabled: id !== null,
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
    refetchOnMount: "always",
  });
  if (id !== null && !piece.isFetchedAfterMount) return <main className="wait">Opening the light…</main>;
  const held = piece.data;
  return <Room key={id} artist={artist} piece={held ? { ...held, scene: sceneOf(held) } : null} />;
}

type OfPiece = Awaited<ReturnType<typeof server.piece>> & { scene: Scene | null };

function Room({ artist, piece }: { artist: string; piece: OfPiece | null }) {
  const { scene, change, undo, redo, canUndo, canRedo } = useScene(artist, piece);
  const [picked, setPicked] = useState(0);
  const [way, setWay] = useState("as_it_is");
  const [part, setPart] = useState<"skin" | "light">("skin");
  const [steps, setSteps] = useState(5);
  const number = Math.min(picked, scene.sitters.length - 1);
  const held = scene.sitters[number] ?? sitter("");
  const choices = useQuery({
    queryKey: ["light"],
    queryFn: server.light,
    staleTime: Number.POSITIVE_INFINITY,
  }).data;
  const settled = useSettled(scene, TOLD_AFTER_MS);
  const telling = useQuery({
    queryKey: ["told", settled, number, steps],
    queryFn: () =>
      server.told({ scene: settled, number: Math.min(number, settled.sitters.length - 1), steps }),
    placeholderData: (before) => before,
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
  const told = telling.data;
  const asking = {
    labs: told?.jobs.map((job) => job.colour.lab as [number, number, number]) ?? [],
    values: told?.spots.map((spot) => spot.colour.value) ?? [],
  };
  const atHand = useQuery({
    queryKey: ["at hand", asking],
    queryFn: () => server.atHand(asking),
    placeholderData: (before) => before,
    enabled: told !== undefined,
    retry: false,
  }).data;
  const greys = useMaterials().data?.value_greys ?? [];
  useKeys([
    { key: "Ctrl+z", does: "Undo what was done to the light or the skin", run: undo },
    { key: "Ctrl+y", does: "Do it again", run: redo },
    ...(choices?.ways ?? []).map((row, i) => ({
      key: String(i + 1),
      does: `See it: ${row.name}`,
      run: () => setWay(row.id),
    })),
  ]);
  return (
    <main className="complexions">
      <div className="complexions-head">
        <Sitters
          scene={scene}
          number={number}
          onPick={setPicked}
          onAdd={() => {
            setPicked(scene.sitters.length);
            change("add", (now) => ({ ...now, sitters: [...now.sitters, sitter("", held.skin)] }));
          }}
          onRemove={() =>
            change("remove", (now) => ({ ...now, sitters: now.sitters.filter((_, i) => i !== number) }))
          }
        />
        <Kept
          name={held.name}
          skin={held.skin}
          onTake={(name, skin) => change("take", (now) => withSitter(now, number, { name, skin }))}
        />
        <span className="bar-gap" />
        <Button variant="quiet" size="sm" disabled={!canUndo} onClick={undo}>
          Undo
        </Button>
        <Button variant="quiet" size="sm" disabled={!canRedo} onClick={redo}>
          Redo
        </Button>
      </div>
      <div className="complexions-table">
        <section aria-label="Study head">
          <Stage scene={scene} number={number} way={way} from={told?.light ?? ""} onChange={change} />
          <div className="stage-foot">
            <Segments
              label="Ways of seeing"
              choices={choices?.ways.map((row) => row.id) ?? ["as_it_is"]}
              chosen={way}
              onChoose={setWay}
              say={(id) => choices?.ways.find((row) => row.id === id)?.name ?? "As it is"}
            />
          </div>
        </section>
        <section className="complexions-set" aria-label="Skin and light">
          <h1 className="words">{told?.words ?? "…"}</h1>
          <div className="complexions-name">
            <Form.Control
              aria-label="Name of this figure"
              placeholder="Name"
              maxLength={60}
              value={held.name}
              onChange={(event) =>
                change("name", (now) => withSitter(now, number, { name: event.target.value }))
              }
            />
            <Form.Select
              aria-label="What is shown"
              value={held.shown}
              onChange={(event) =>
                change("shown", (now) =>
                  withSitter(now, number, { shown: event.target.value as keyof typeof SHOWN }),
                )
              }
            >
              {Object.entries(SHOWN).map(([shown, name]) => (
                <option key={shown} value={shown}>
                  {name}
                </option>
              ))}
            </Form.Select>
            <Segments
              label="What to set"
              choices={["skin", "light"] as const}
              chosen={part}
              onChoose={setPart}
              say={(of) => (of === "skin" ? "Skin" : "Light")}
            />
          </div>
          {part === "skin" ? (
            <SkinSliders
              skin={held.skin}
              told={told}
              onSet={(skin) => change(Object.keys(skin).join(), (now) => withSkin(now, number, skin))}
            />
          ) : (
            <LightSliders scene={scene} told={told} choices={choices} onChange={change} />
          )}
        </section>
        <section className="complexions-places" aria-label="Places to plan">
          <h2 className="h6">Places to plan</h2>
          {told && <Places spots={told.spots} atHand={atHand} greys={greys} height={470} />}
          {atHand?.advice && <p role="note">{atHand.advice}.</p>}
          {telling.error && (
            <p className="problem" role="alert">
              {problemOf(telling.error, "What you see is what was there before.")}
            </p>
          )}
        </section>
        <div className="complexions-foot">
          {told && <Jobs jobs={told.jobs} atHand={atHand} steps={steps} onSteps={setSteps} />}
          <Use scene={scene} piece={piece} count={told?.spots.length ?? 0} />
        </div>
      </div>
    </main>
  );
}

type SittersProps = {
  scene: Scene;
  number: number;
  onPick: (number: number) => void;
  onAdd: () => void;
  onRemove: () => void;
};

function Sitters({ scene, number, onPick, onAdd, onRemove }: SittersProps) {
  const names = scene.sitters.map((row, i) => row.name || `Figure ${i + 1}`);
  return (
    <>
      {names.length > 1 && (
        <Segments
          label="Figures"
          choices={names.map((_, i) => i)}
          chosen={number}
          onChoose={onPick}
          say={(i) => names[i]}
        />
      )}
      {names.length < MOST_SITTERS && (
        <Button variant="quiet" size="sm" onClick={onAdd}>
          one more figure in this light
        </Button>
      )}
      {names.length > 1 && (
        <Button variant="quiet" size="sm" onClick={onRemove}>
          without {names[number]}
        </Button>
      )}
    </>
  );
}

/** Takes what is proposed into a piece, or the shading map to the printer. */
function Use({ scene, piece, count }: { scene: Scene; piece: OfPiece | null; count: number }) {
  const go = useNavigate();
  const [millimetres, setMillimetres] = useState(120);
  // A picture of the artist's own, such as a line drawing.
  const own = piece?.document.picture && piece.document.picture !== piece.document.imagined?.sheet;
  const queries = useQueryClient();
  const names = scene.sitters.map((row, i) => row.name.trim() || `Figure ${i + 1}`);
  const useWords =
    names.length > 1 ? "Use the places of all" : `Use these ${count ? (NUMBERS[count] ?? count) : "places"}`;
  const use = useMutation({
    mutationFn: async (how: "sheet" | "drawing" | "list") => {
      const { sitters, key, ...light } = scene;
      const held = piece ?? (await server.addPiece(names.join(" and ").slice(0, 100), crypto.randomUUID()));
      const known = held.document.imagined?.seats ?? [];
      const asked = {
        ...light,
        key_light: key,
        drawn: how === "sheet",
        spots: how !== "drawing",
        key: crypto.randomUUID(),
        seats: sitters.map((sitter, i) => ({
          name: names[i] ?? "",
          sitter,
          figure: known[i]?.figure ?? "",
        })),
      };
      try {
        await server.imagine(held.id, { ...asked, version: held.version });
      } catch (error) {
        // Changed meanwhile, in another window perhaps: the light is taken into what is there now.
        if (!(error instanceof Refusal && error.current)) throw error;
        await server.imagine(held.id, { ...asked, version: error.current.version });
      }
      return held.id;
    },
    onSuccess: async (id) => {
      await queries.invalidateQueries({ queryKey: ["pieces"] });
      void go(`/pieces/${id}/look`);
    },
  });
  const map = useMutation({
    mutationFn: (kind: SheetKind) => server.shadingMap({ scene, opposite: true, kind, side_mm: millimetres }),
    onSuccess: (made, kind) => save(made as unknown as Blob, `shading-map.${kind}`),
  });
  const problem = problemOf(use.error ?? map.error, "Nothing was changed.");
  return (
    <div className="complexions-use">
      {problem && (
        <p className="problem" role="alert">
          {problem}
        </p>
      )}
      <span className="complexions-map">
        {map.isPending ? "Drawing the map …" : "Shading map"}
        <Form.Select
          size="sm"
          aria-label="How wide the shading map is"
          value={millimetres}
          onChange={(event) => setMillimetres(Number(event.target.value))}
        >
          {MAP_SIDES.map((side) => (
            <option key={side} value={side}>
              {side} mm
            </option>
          ))}
        </Form.Select>
        <Button variant="quiet" size="sm" disabled={map.isPending} onClick={() => map.mutate("pdf")}>
          to print
        </Button>
        <Button variant="quiet" size="sm" disabled={map.isPending} onClick={() => map.mutate("svg")}>
          as SVG
        </Button>
        <Button variant="quiet" size="sm" disabled={map.isPending} onClick={() => map.mutate("png")}>
          as PNG
        </Button>
      </span>
      {own ? (
        <Button variant="quiet" disabled={use.isPending} onClick={() => use.mutate("drawing")}>
          for my own picture, whose spots aim for this light
        </Button>
      ) : (
        <Button variant="quiet" disabled={use.isPending || !count} onClick={() => use.mutate("list")}>
          as a list of places, without a picture
        </Button>
      )}
      <Button
        variant="act"
        className="btn-deed"
        disabled={use.isPending || !count}
        onClick={() => use.mutate("sheet")}
      >
        {use.isPending ? "Drawing the sheet …" : useWords}
      </Button>
      {piece && <Link to={`/pieces/${piece.id}/look`}>back to {piece.title} without a change</Link>}
    </div>
  );
}
