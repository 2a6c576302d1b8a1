import { useMutation, useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { Link, useNavigate } from "react-router";
import { type Materials, server } from "../../api/client";
import { problemOf } from "../../api/mutations";
import { materialsQuery, traysQuery, useMaterials, useTrays } from "../../api/queries";
import { RemovedList } from "../../ui/LazyRemoved";
import { PictureInput } from "../../ui/PictureInput";
import { Segments } from "../../ui/Segments";
import { Strokes } from "../../ui/Strokes";
import { TakeIn } from "../../ui/TakeIn";

// Fetched when it is opened: the first page is not to wait for it.
const AddSticks = lazy(() => import("../../ui/AddSticks").then((held) => ({ default: held.AddSticks })));
const ENOUGH = 24;
const EXAMPLE = "#b8573f";

/** The range to begin with in a medium: the smallest that holds enough. */
function rangeFor(materials: Materials, medium: string) {
  const fitting = materials.ranges.filter((row) => row.medium === medium).sort((a, b) => a.size - b.size);
  return fitting.find((row) => row.size >= ENOUGH) ?? fitting.at(-1);
}

type Props = { onWithout: () => void };

/** The empty table: who is drawn, and with what; a picture and a medium are all that a plan needs. */
export function FirstPiece({ onWithout }: Props) {
  const materials = useMaterials().data;
  const trays = useTrays().data;
  const [said, setMedium] = useState<string | null>(null);
  // What the artist has tells what is drawn with, until something else is said.
  const medium = said ?? (trays?.at(-1)?.medium || "pencil");
  const [over, setOver] = useState(false);
  const [putting, setPutting] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const go = useNavigate();
  const queries = useQueryClient();
  const beginning = useMutation({
    mutationFn: async (chosen: File) => {
      const [materials, trays] = await Promise.all([
        queries.ensureQueryData(materialsQuery),
        queries.ensureQueryData(traysQuery),
      ]);
      const picture = await server.addPicture(chosen);
      const range = trays.length === 0 ? rangeFor(materials, medium) : undefined;
      if (range) await server.addTray({ name: range.name, range: range.id });
      const title = chosen.name.replace(/\.[^.]*$/, "").trim() || "First piece";
      const piece = await server.addPiece(title.slice(0, 100), crypto.randomUUID());
      const held = materials.media.find((row) => row.id === medium);
      const setup =
        held && medium !== piece.document.setup.medium
          ? {
              "setup/medium": medium,
              "setup/method": held.usual_method,
              "setup/paper": held.usual_paper,
            }
          : {};
      await server.editing.change(piece.id, {
        version: piece.version,
        key: crypto.randomUUID(),
        known: "",
        changes: { picture: picture.id, ...setup },
      });
      return piece.id;
    },
    onSuccess: async (id) => {
      await queries.invalidateQueries({ queryKey: ["pieces"] });
      await queries.invalidateQueries({ queryKey: ["trays"] });
      void go(`/pieces/${id}/look?first=1`);
    },
  });
  const take = (chosen: File | undefined) => {
    if (chosen && !beginning.isPending) beginning.mutate(chosen);
  };
  const problem = problemOf(beginning.error, "Choose another, nothing else is changed.");
  const media = materials?.media.filter((row) => !row.finishing) ?? [];
  return (
    <main
      className="page first"
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        take(event.dataTransfer.files[0]);
      }}
      onPaste={(event) => take(event.clipboardData.files[0])}
    >
      <header>
        <h1>Who will you draw?</h1>
        <p>
          You bring the face and what you draw with. You get the layers: which colour, where, how hard, and
          how it will look.
        </p>
      </header>
      <section className={over ? "first-picture is-over" : "first-picture"} aria-label="From a picture">
        <h2>From a picture</h2>
        <p>
          Drop it anywhere on this page, paste it, or choose it. It stays on this machine; nobody else sees
          it.
        </p>
        <PictureInput input={file} onChoose={take} />
        <Button
          variant="act"
          className="btn-deed"
          disabled={beginning.isPending}
          onClick={() => file.current?.click()}
        >
          {beginning.isPending ? "Reading the picture …" : "Choose a picture"}
        </Button>
        {problem && (
          <p className="problem" role="alert">
            {problem}
          </p>
        )}
        <div className="first-ways">
          <Link className="btn btn-quiet" to="/complexions">
            or describe a complexion and imagine the light
          </Link>
          <Button variant="quiet" onClick={onWithout}>
            or start with a title alone
          </Button>
          <TakeIn says="or take in a file that was taken along" />
        </div>
      </section>
      {/* All of it at once: what is about to be clicked must not move. */}
      {materials && trays && (
        <section className="first-media" aria-label="What you draw with">
          <h2>What do you draw with?</h2>
          <Segments
            large
            label="What do you draw with?"
            choices={media.map((row) => row.id)}
            chosen={medium}
            onChoose={setMedium}
            say={(id) => (
              <>
                <Strokes hex={EXAMPLE} pressure="heavy" medium={id} />
                {media.find((row) => row.id === id)?.name}
              </>
            )}
          />
          <p className="hint">
            {trays.length
              ? `Your own are used: ${trays.map((row) => row.name).join(", ")}.`
              : `To begin with you have a common range of them (${
                  rangeFor(materials, medium)?.size ?? ENOUGH
                }).`}{" "}
            <Button variant="quiet" size="sm" onClick={() => setPutting(true)}>
              put in my own
            </Button>
          </p>
          {putting && (
            <Suspense>
              <AddSticks
                show
                tray={null}
                medium={medium}
                onClose={() => setPutting(false)}
                onPut={(_, of) => {
                  setMedium(of);
                  setPutting(false);
                }}
              />
            </Suspense>
          )}
        </section>
      )}
      <RemovedList kind="piece" />
    </main>
  );
}
