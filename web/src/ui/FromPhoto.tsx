import { useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useRef, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { server, swatchSheetUrl } from "../api/client";
import { problemOf, useWrite } from "../api/mutations";
import { pictureUrl, sized } from "../api/pictures";
import { useSticks } from "../api/queries";
import type { NewStick } from "./AddSticks";
import { type Asked, PhotoSheet } from "./PhotoSheet";
import { PictureInput } from "./PictureInput";
import { SeenSwatches } from "./SeenSwatches";
import { Segments } from "./Segments";
import { LAID, type Laid, namesFor, sticksOf, UNSURE, type Written, withoutOne } from "./swatchSheet";
import { useSettled } from "./useSettled";

const PAPERS = ["A4", "A5", "Letter"];
const SETTLED_MS = 250;
const SHOWN = 1500;

type Props = {
  medium: string;
  /** The box they are put into. */
  tray: { id: string; name: string } | null;
  /** again: these are sticks of the box, and get their colours anew. */
  onChange: (sticks: NewStick[], again?: boolean) => void;
};

/** Swatches read from a photograph: found, counted, named by their order, each with how sure its colour is. */
export function FromPhoto({ medium, tray, onChange }: Props) {
  const file = useRef<HTMLInputElement>(null);
  const { sticks: own } = useSticks(tray?.id ?? null);
  const [asked, setAsked] = useState<Asked>({});
  const [text, setText] = useState("");
  const [written, setWritten] = useState<ReadonlyMap<number, Written>>(new Map());
  const [laid, setLaid] = useState<Laid>(LAID[0]);
  const [picked, setPicked] = useState<number | null>(null);
  const [left, setLeft] = useState<ReadonlySet<number>>(new Set());
  const photo = useWrite(server.addPicture, ["space"], () => {
    setAsked({});
    setWritten(new Map());
    setPicked(null);
    setLeft(new Set());
  });
  const picture = photo.data;
  const { data: sheet, error } = useQuery({
    queryKey: ["swatches", picture?.id, asked],
    queryFn: () => server.sheetIn(picture?.id ?? "", asked),
    enabled: picture !== undefined,
    retry: false,
    placeholderData: (held, before) => (before?.queryKey[1] === picture?.id ? held : undefined),
  });
  const settled = useSettled(text, SETTLED_MS);
  const list = useQuery({
    queryKey: ["list", settled, medium, "", null],
    queryFn: () => server.readList({ text: settled, medium, range: "", columns: [] }),
    enabled: settled.trim() !== "",
    retry: false,
  });
  const listed = (settled.trim() && list.data?.sticks) || NONE;
  const again = sheet?.first != null && listed.length === 0 && own.length > 0;
  const names = useMemo(
    () => (sheet ? namesFor(sheet, listed, own, written) : []),
    [sheet, listed, own, written],
  );
  const found = useMemo(
    () => (sheet && !error ? sticksOf(sheet, names, medium, laid).filter((_, i) => !left.has(i)) : []),
    [sheet, error, names, medium, laid, left],
  );
  useEffect(() => onChange(found, again), [found, again, onChange]);
  const leave = (at: number) => {
    if (!sheet) return;
    if (again) {
      // On a printed sheet a place is a stick: the others stay what they are.
      setLeft(new Set(left).add(at));
      return;
    }
    setWritten(withoutOne(written, at));
    setPicked(null);
    const boxes = asked.boxes ?? sheet.swatches.map((row) => row.place);
    setAsked({ corners: sheet.corners, chart: asked.chart, boxes: boxes.filter((_, i) => i !== at) });
  };
  const unsure = sheet?.swatches.filter((row) => row.said || row.doubt > UNSURE).length ?? 0;
  return (
    <section aria-label="By photograph" className={sheet ? "by-photo is-seen" : "by-photo"}>
      {!picture && (
        <>
          <p>
            Lay each as a small closed field, heavy, until no paper shows. Leave white paper around every one,
            let it dry, and photograph the whole sheet from above in even light. Swatches that you already
            have on any white paper will do.
          </p>
          <p className="hint">
            Markers: open a window, and put the lids back on. Pastel: tap the dust off, never blow it. What
            the maker's safety sheet says goes first.
          </p>
        </>
      )}
      <div className="photo-begin">
        <Button
          variant={picture ? "quiet" : "act"}
          size={picture ? "sm" : undefined}
          onClick={() => file.current?.click()}
          disabled={photo.isPending}
        >
          {photo.isPending
            ? "Looking at it …"
            : picture
              ? "another photograph"
              : "Choose or take a photograph"}
        </Button>
        {!picture && (
          <span>
            or print a sheet for it:{" "}
            {PAPERS.map((paper) => (
              <a key={paper} href={swatchSheetUrl(paper, tray?.id)} target="_blank" rel="noreferrer">
                {paper}
              </a>
            ))}
          </span>
        )}
      </div>
      <PictureInput input={file} onChoose={(chosen) => chosen && photo.mutate(chosen)} />
      {(photo.error ?? error) && (
        <p className="problem" role="alert">
          {problemOf(photo.error ?? error, "")}
        </p>
      )}
      {picture && !sheet && !error && <p role="note">Looking for the sheet and its swatches …</p>}
      {picture && sheet && (
        <PhotoSheet
          picture={picture}
          photo={sized(pictureUrl(picture.id), SHOWN)}
          sheet={sheet}
          asked={asked}
          names={names}
          picked={picked}
          onAsk={setAsked}
          onPick={setPicked}
          onLeave={leave}
        />
      )}
      {sheet && (
        <div className="photo-read">
          <p className="photo-said" role="note">
            {counted(sheet.swatches.length)}{" "}
            {sheet.swatches.length > 0 &&
              `By ${asked.chart ? "the chart" : "the paper alone"}, colours are usually within ${sheet.usual.toFixed(1)}: ${sheet.usual_words}.`}{" "}
            {sheet.said || (unsure > 0 && `Look at ${unsure === 1 ? "one" : unsure} of them again.`)}
          </p>
          <Segments label="How they are laid" choices={LAID} chosen={laid} onChoose={setLaid} />
          {again && tray && (
            <p role="note">
              This is the printed sheet of {tray.name}: what stands on it gets its colour anew.
            </p>
          )}
          {sheet.swatches.length > 0 && (
            <Form.Group controlId="swatch-names">
              <Form.Label>Their numbers and names in this order, one in each line</Form.Label>
              <Form.Control
                as="textarea"
                rows={3}
                value={text}
                placeholder={"12 burnt sienna\n13 raw umber"}
                spellCheck={false}
                onChange={(event) => {
                  setText(event.target.value);
                  setWritten(new Map());
                }}
              />
              {listed.length > sheet.swatches.length && (
                <p className="problem" role="note">
                  {listed.length} names for {sheet.swatches.length} swatches: mark the others, or shorten the
                  list.
                </p>
              )}
            </Form.Group>
          )}
          <SeenSwatches
            sheet={sheet}
            names={names}
            medium={medium}
            picked={picked}
            left={left}
            fixed={again}
            onWrite={(at, part) => setWritten(new Map(written).set(at, { ...written.get(at), ...part }))}
            onLeave={leave}
          />
        </div>
      )}
    </section>
  );
}

const NONE: never[] = [];

const counted = (n: number) =>
  n === 0 ? "No swatch was found: tap each, or lay a grid." : `${n} swatch${n > 1 ? "es" : ""} found.`;
