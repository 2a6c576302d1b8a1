import { useEffect, useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { type CardPhoto, type LongWork, Refusal, server, type TrialCard } from "../../api/client";
import { cardUrl } from "../../api/files";
import { problemOf, useWrite } from "../../api/mutations";
import { pictureUrl, sized, squaredUrl } from "../../api/pictures";
import { useEditor } from "../../document/useEditor";
import { type At, Handles } from "../../ui/Handles";
import { HowFar } from "../../ui/HowFar";
import { NumberField } from "../../ui/NumberField";
import { PictureInput } from "../../ui/PictureInput";
import { counted } from "./words";

const SHOWN = 1500;
const CORNERS = ["upper left", "upper right", "lower right", "lower left"].map((at) => `Mark, ${at}`);
const BEGIN: At[] = [
  [0.12, 0.1],
  [0.88, 0.1],
  [0.88, 0.9],
  [0.12, 0.9],
];

const CHART: At[] = [
  [0.3, 0.7],
  [0.7, 0.7],
  [0.7, 0.95],
  [0.3, 0.95],
];
const CHART_CORNERS = CORNERS.map((name) => name.replace("Mark", "Chart"));

type Props = { card: TrialCard; photo: CardPhoto | undefined; onFill: () => void };

/** What to do with the card next: print it, fill it, photograph it; then what was read. */
export function ReadCard({ card, photo, onFill }: Props) {
  const file = useRef<HTMLInputElement>(null);
  const { refresh } = useEditor();
  const [corners, setCorners] = useState<At[]>(BEGIN);
  const [page, setPage] = useState(1);
  const [charting, setCharting] = useState(false);
  const [chart, setChart] = useState<At[]>(CHART);
  const shape = useShape(charting && photo ? squaredUrl(photo.picture, photo.corners as At[]) : "");
  const [work, setWork] = useState<LongWork>();
  const picture = useWrite(server.addPicture, ["space"], (made) => read.mutate({ picture: made.id }));
  const read = useWrite(
    (asked: Parameters<typeof server.readCard>[1]) =>
      server.readCard(card.id, asked, setWork).finally(() => setWork(undefined)),
    ["trials"],
    () => void refresh(),
  );
  const back = useWrite(server.takeBack, ["trials"], () => void refresh());
  const inAgain = useWrite(
    ({ id, boxes }: CardPhoto) =>
      server.correctBoxes(id, {
        left_out: [],
        taken_in: boxes.filter((row) => row.verdict !== "fine" && row.learnt).map((row) => row.number),
      }),
    ["trials"],
    () => void refresh(),
  );
  const left = photo?.boxes.some((row) => row.verdict === "fine" && !row.learnt);
  const error = picture.error ?? read.error ?? back.error ?? inAgain.error;
  const unseen = read.error instanceof Refusal && read.error.problems[0]?.code === "no_card" && picture.data;
  const waiting = picture.isPending || read.isPending;
  const [before = 0, after = 0] = card.bands ?? [];
  const learnt = photo?.boxes.filter((box) => box.learnt).length ?? 0;
  return (
    <div className="try-read">
      <h1>{photo ? counted(learnt) : `Card ${card.number}: ${card.boxes.length} boxes`}</h1>
      {photo ? (
        <p>{photo.said || said(photo)}</p>
      ) : (
        <p>
          {card.bands &&
            `Today eight of ten mixtures end within ${before.toFixed(0)} of what is planned; once it is filled, within ${after.toFixed(1)}. `}
          Print it on the paper of the piece, or trace frames and marks; fill the boxes; photograph it from
          above, in even light.
        </p>
      )}
      <div className="try-deeds">
        <Button variant={photo ? "quiet" : "act"} disabled={waiting} onClick={() => file.current?.click()}>
          {waiting ? "Reading it …" : photo ? "photograph it again" : "Read its photograph"}
        </Button>
        <a className="btn btn-quiet" href={cardUrl(card.id, "pdf")} target="_blank" rel="noreferrer">
          print it
        </a>
        <a className="btn btn-quiet" href={cardUrl(card.id, "svg")} download>
          as SVG
        </a>
        <a className="btn btn-quiet" href={cardUrl(card.id, "png")} download>
          as PNG
        </a>
        <Button variant="quiet" onClick={onFill}>
          fill it box by box
        </Button>
        {photo && left && (
          <Button variant="quiet" disabled={inAgain.isPending} onClick={() => inAgain.mutate(photo)}>
            {inAgain.isPending ? "learning anew …" : "take them in again"}
          </Button>
        )}
        {photo && !charting && (
          <Button variant="quiet" onClick={() => setCharting(true)}>
            a chart of 24 patches lies on it
          </Button>
        )}
        {photo && (
          <Button variant="quiet" disabled={back.isPending} onClick={() => back.mutate(photo.id)}>
            take this reading back
          </Button>
        )}
      </div>
      {work && <HowFar work={work} label="How far the reading is" />}
      <PictureInput
        input={file}
        onChoose={(chosen) => {
          if (!chosen) return;
          read.reset();
          picture.mutate(chosen);
        }}
      />
      {error && (
        <p className="problem" role="alert">
          {problemOf(error, "What was learnt before is kept.")}
        </p>
      )}
      {photo && charting && (
        <div className="try-corners">
          <p className="hint">
            Set the corners of the chart, its first patch upper left: it tells more of the camera than the
            paper does.
          </p>
          <Handles
            url={squaredUrl(photo.picture, photo.corners as At[])}
            alt="The card from above"
            width={shape[0]}
            height={shape[1]}
            points={chart}
            names={CHART_CORNERS}
            joined
            onMove={setChart}
          />
          <div className="try-deeds">
            <Button
              variant="act"
              disabled={waiting}
              onClick={() =>
                read.mutate(
                  {
                    picture: photo.picture,
                    corners: photo.corners as At[],
                    page: photo.page,
                    chart,
                  },
                  { onSuccess: () => setCharting(false) },
                )
              }
            >
              {waiting ? "Reading it …" : "Read it by the chart"}
            </Button>
            <Button variant="quiet" onClick={() => setCharting(false)}>
              no chart
            </Button>
          </div>
        </div>
      )}
      {unseen && (
        <div className="try-corners">
          <p className="hint">Or set the outer corners of its four marks by hand.</p>
          <Handles
            url={sized(pictureUrl(unseen.id), SHOWN)}
            alt="The photograph"
            width={unseen.width}
            height={unseen.height}
            points={corners}
            names={CORNERS}
            joined
            onMove={setCorners}
          />
          {card.pages > 1 && (
            <NumberField
              label="Page"
              value={page}
              low={1}
              high={card.pages}
              onSet={(n) => setPage(Math.round(n))}
            />
          )}
          <Button
            variant="act"
            disabled={waiting}
            onClick={() => read.mutate({ picture: unseen.id, corners, page: page - 1 })}
          >
            Read it so
          </Button>
        </div>
      )}
    </div>
  );
}

/** Width and height of a picture in pixels, once it is there. */
function useShape(url: string): [number, number] {
  const [shape, setShape] = useState<[number, number]>([1, 1]);
  useEffect(() => {
    if (!url) return;
    const image = new Image();
    image.onload = () => setShape([image.naturalWidth, image.naturalHeight]);
    image.src = url;
  }, [url]);
  return shape;
}

function said(photo: CardPhoto): string {
  const wrong = photo.boxes.filter((box) => box.verdict !== "fine");
  const empty = wrong.filter((box) => box.verdict === "empty").length;
  const look = wrong.length - empty;
  const left = photo.boxes.filter((box) => box.verdict === "fine" && !box.learnt).length;
  const parts = [
    look > 0 &&
      `${look === 1 ? "One wants" : `${look} want`} a look and ${look === 1 ? "does" : "do"} not count yet.`,
    left > 0 && `${left === 1 ? "One is" : `${left} are`} left out.`,
    empty > 0 && `${empty === 1 ? "One is" : `${empty} are`} empty, which is fine.`,
  ];
  return parts.filter(Boolean).join(" ") || "All of them could be read.";
}
