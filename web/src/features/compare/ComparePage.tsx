import { useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { Link } from "react-router";
import { Refusal, server } from "../../api/client";
import { comparing, useCompared, useComparisons } from "../../api/comparing";
import { problemOf, useWrite } from "../../api/mutations";
import { usePiece } from "../../document/useEditor";
import { EmptyPage } from "../../ui/EmptyPage";
import { Failed } from "../../ui/Failed";
import { PictureInput } from "../../ui/PictureInput";
import { Judged } from "./Judged";
import { SetCorners } from "./SetCorners";
import "./compare.css";

/** What a hand can put right by setting corners. */
const BY_HAND = ["corners_needed", "wrong_drawing", "bad_corners", "no_paper"];

/** The fifth step: the drawing photographed, judged, and put right. */
export function ComparePage() {
  const piece = usePiece();
  const rows = useComparisons(piece.id);
  const [picked, setPicked] = useState<string | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const added = (made: { id: string }) => setPicked(made.id);
  const read = useWrite(
    (asked: Parameters<typeof comparing.add>[1]) => comparing.add(piece.id, asked),
    ["comparisons"],
    added,
  );
  const picture = useWrite(server.addPicture, ["space"], (made) => read.mutate({ picture: made.id }));
  const list = rows.data?.rows ?? [];
  const id = list.some((row) => row.id === picked) ? (picked ?? undefined) : list.at(-1)?.id;
  const compared = useCompared(id);
  const error = picture.error ?? read.error;
  const waiting = picture.isPending || read.isPending;
  const code = read.error instanceof Refusal ? read.error.problems[0]?.code : undefined;
  const byHand = picture.data && code !== undefined && BY_HAND.includes(code) ? picture.data : null;
  const choose = () => file.current?.click();
  const input = (
    <PictureInput
      input={file}
      onChoose={(chosen) => {
        if (!chosen) return;
        read.reset();
        picture.mutate(chosen);
      }}
    />
  );
  const said = error && (
    <p className="problem" role="alert">
      {problemOf(error, "")}
    </p>
  );
  if (rows.error) return <Failed error={rows.error} onAgain={() => void rows.refetch()} />;
  if (id && compared.error) return <Failed error={compared.error} onAgain={() => void compared.refetch()} />;
  if (!rows.data || (id && !compared.data))
    return (
      <main key="wait" className="wait">
        Looking for your drawing …
      </main>
    );
  if (byHand)
    return (
      <main className="compare-new">
        <SetCorners
          picture={byHand}
          waiting={waiting}
          problem={said}
          onSet={(corners) => read.mutate({ picture: byHand.id, corners })}
          onLeave={() => {
            read.reset();
            picture.reset();
          }}
        />
      </main>
    );
  if (!piece.picture)
    return (
      <EmptyPage
        title="Nothing to compare with yet"
        text="The drawing is laid over its picture: put in a picture first."
        to={`/pieces/${piece.id}/look`}
        deed="Put in a picture"
      />
    );
  if (!compared.data)
    return (
      <main className="compare-new">
        <h1>Photograph the drawing</h1>
        <p>
          In progress or finished, by phone or scanner: from above, in even light, the whole sheet with a
          little table around it and nothing lying on it. It is laid over its picture and judged: darks and
          lights first.
        </p>
        <p className="hint">
          The camera is told from the bare paper, so leave some of it in sight. Tick what you have laid in{" "}
          <Link to={`/pieces/${piece.id}/work`}>Work</Link>: corrections begin with what lies there.
        </p>
        <Button variant="act" className="btn-deed" disabled={waiting} onClick={choose}>
          {waiting ? "Laying it over its picture …" : "Choose its photograph"}
        </Button>
        {said}
        {input}
      </main>
    );
  return (
    <>
      {input}
      <Judged
        key={compared.data.id}
        compared={compared.data}
        rows={list}
        allLaid={rows.data.all_laid}
        waiting={waiting}
        problem={said}
        onPick={setPicked}
        onAnother={choose}
      />
    </>
  );
}
