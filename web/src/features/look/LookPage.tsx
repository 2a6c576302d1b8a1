import { useEffect, useRef, useState } from "react";
import { Button } from "react-bootstrap";
import { Link, useSearchParams } from "react-router";
import { useMaterials, useStudy } from "../../api/queries";
import { usePiece, useSpots as useSeenSpots } from "../../document/useEditor";
import { useKeys } from "../../ui/keys";
import { PictureCanvas } from "../../ui/PictureCanvas";
import { Segments } from "../../ui/Segments";
import { useHeight } from "../../ui/useHeight";
import { useWide } from "../../ui/useWide";
import { useView } from "../../ui/useZoom";
import { ValueLadder } from "../../ui/ValueLadder";
import { FigureSeen } from "./FigureSeen";
import { PlainPlaces } from "./PlainPlaces";
import { PutPicture } from "./PutPicture";
import type { Task } from "./task";
import { useLight } from "./useLight";
import { useMeasure } from "./useMeasure";
import { usePeople } from "./usePeople";
import { useSpots } from "./useSpots";
import { useWays } from "./useWays";
import { WaySet, WaysBar } from "./WaysBar";

/** Windows at least so wide have room for whole names on the ladder. */
const ROOMY = 1180;

const TASKS = [
  { id: "spots", name: "Spots", key: "q" },
  { id: "people", name: "People", key: "p" },
  { id: "light", name: "Light", key: "i" },
  { id: "measure", name: "Measure", key: "r" },
] as const;
type TaskId = (typeof TASKS)[number]["id"];

export function LookPage() {
  const piece = usePiece();
  const { document, picture } = piece;
  const { figures } = document;
  const spots = useSeenSpots();
  const [task, setTask] = useState<TaskId>(spots.length > 0 ? "spots" : "people");
  const [selected, setSelected] = useState<string | null>(spots[0]?.id ?? null);
  const [fine, setFine] = useState(0);
  const [hovered, setHovered] = useState<string | null>(null);
  const [whose, setWhose] = useState<string | undefined>(figures[0]?.id);
  const materials = useMaterials();
  const study = useStudy(piece.id, piece.keys.study, picture !== null).data;
  const [ladder, ladderHeight] = useHeight();
  const zoom = useView();
  const roomy = useWide(ROOMY);
  const ways = useWays(piece, materials.data);

  const figure = figures.find((row) => row.id === whose) ?? figures[0];
  const mine = spots.filter((spot) => spot.figure === figure?.id);
  const other = figures.find((row) => row.id !== figure?.id && spots.some((spot) => spot.figure === row.id));
  const select = (id: string | null) => {
    setSelected(id);
    const owner = spots.find((spot) => spot.id === id)?.figure;
    if (owner) setWhose(owner);
  };
  const chooseFigure = (id: string) => {
    setWhose(id);
    setSelected(spots.find((spot) => spot.figure === id)?.id ?? null);
  };
  const chosen = spots.find((spot) => spot.id === selected) ?? null;
  const onSpots = useSpots({ figure, selected, select, study, fine });
  const onPeople = usePeople({
    figure: figure?.id ?? "",
    onFigure: chooseFigure,
    study,
    chosen,
    onPaint: () => ways.see("skin"),
    onTaken: (first) => {
      setSelected(first);
      setTask("spots");
    },
  });
  const onLight = useLight(study, chosen);
  const onMeasure = useMeasure();
  const tasks: Record<TaskId, Task> = {
    spots: onSpots,
    people: onPeople,
    light: onLight,
    measure: onMeasure,
  };
  const now = tasks[task];
  const dropping: Task["tool"] = {
    down: (at) => {
      setTask("spots");
      onSpots.add(at);
    },
  };
  const tool = now.tool ?? (onPeople.proposal ? undefined : dropping);
  const suggest = () => {
    setTask("people");
    onPeople.suggest();
  };
  useKeys([
    ...TASKS.map((row) => ({ key: row.key, does: `Work on: ${row.name}`, run: () => setTask(row.id) })),
    {
      key: "s",
      does: "Put a spot in the middle of the picture",
      run: () => {
        if (!picture) return;
        setTask("spots");
        onSpots.add({ x: 0.5, y: 0.5 });
      },
    },
    ...(task === "measure"
      ? [{ key: "n", does: "New measure in the middle of the picture", run: onMeasure.add }]
      : []),
    { key: "a", does: "Suggest spots", run: suggest },
  ]);

  // The first time places are proposed without being asked for.
  const [asked, setAsked] = useSearchParams();
  const first = asked.has("first") && spots.length === 0 && study !== undefined;
  const propose = useRef(onPeople.suggest);
  propose.current = onPeople.suggest;
  useEffect(() => {
    if (!first) return;
    setAsked({}, { replace: true });
    propose.current();
  }, [first, setAsked]);

  const known = onPeople.proposal?.figures ?? study?.figures;
  const faces = known?.flatMap((row) => (onPeople.proposal || row.id === figure?.id ? (row.face ?? []) : []));
  if (!picture) return document.imagined ? <PlainPlaces /> : <PutPicture />;
  const seen = ways.way.id === "values" ? `in ${ways.amount} values` : ways.way.name.toLowerCase();
  const stage = (url: string, alt: string, { lens, beside }: { lens?: string; beside?: boolean } = {}) => (
    <PictureCanvas
      url={url}
      onFine={setFine}
      beside={beside}
      alt={alt}
      lens={lens}
      width={picture.width}
      height={picture.height}
      spots={onPeople.proposal && task === "people" ? [] : spots}
      figures={figures}
      selected={selected}
      hovered={hovered}
      onSelect={select}
      onHover={setHovered}
      tool={tool}
      onChange={onSpots.change}
      onCorner={onSpots.corner}
      onRemove={onSpots.remove}
      above={now.above}
      zoom={zoom}
      faces={faces}
    />
  );
  const inWay = `Reference of ${piece.title}, ${seen}`;
  const plain = `Reference of ${piece.title}, as it is`;
  return (
    <main className="look">
      <h1 className="visually-hidden">Look at {piece.title}</h1>
      <section className="look-picture" aria-label="Reference">
        <WaysBar ways={ways} />
        <div className="stages">
          {ways.compare === "beside" && stage(ways.plain, plain, { beside: true })}
          {ways.compare === "window" ? stage(ways.plain, plain, { lens: ways.url }) : stage(ways.url, inWay)}
        </div>
        <div className="look-foot">
          {tool && tool === (task === "people" ? dropping : onSpots.tool) && ways.way.id === "as_it_is" && (
            <span className="hint">Tap the picture: a spot drops there, and its colour is read.</span>
          )}
          <WaySet
            ways={ways}
            canBalance={document.balance !== null}
            colourless={study?.colourless ?? false}
          />
        </div>
      </section>
      <section className="look-values" aria-label="Values">
        {figures.length > 1 && (
          <Segments
            label="Whose places"
            choices={figures.map((row) => row.id)}
            chosen={figure?.id ?? ""}
            onChoose={chooseFigure}
            say={(id) => figures.find((row) => row.id === id)?.name}
          />
        )}
        <div className="look-ladder" ref={ladder}>
          <ValueLadder
            roomy={roomy}
            spots={mine}
            limits={study?.figures.find((row) => row.id === figure?.id)}
            others={other && { name: other.name, spots: spots.filter((spot) => spot.figure === other.id) }}
            reach={piece.found.reach}
            selected={selected}
            hovered={hovered}
            onHover={setHovered}
            onSelect={select}
            height={ladderHeight}
            greys={materials.data?.value_greys ?? []}
          />
        </div>
      </section>
      <aside className="spot-panel" aria-label={TASKS.find((row) => row.id === task)?.name}>
        <Segments
          label="Work on"
          choices={TASKS.map((row) => row.id)}
          chosen={task}
          onChoose={setTask}
          say={(id) => TASKS.find((row) => row.id === id)?.name}
          hint={(id) => TASKS.find((row) => row.id === id)?.key}
        />
        <div className="look-task">
          {task === "spots" && figure && mine.length > 0 && (
            <FigureSeen figure={figure} spots={mine} study={study} onSelect={select} />
          )}
          {now.panel}
        </div>
        <footer className="look-deed">
          {!onPeople.deed && (
            <div className="look-instead">
              <PutPicture again />
              <Link className="btn btn-quiet btn-sm" to={`/complexions?piece=${piece.id}`}>
                {document.imagined ? "Change the light" : "Imagine a light"}
              </Link>
            </div>
          )}
          {onPeople.deed ??
            (spots.length > 0 ? (
              <Link className="btn btn-act btn-deed" to={`/pieces/${piece.id}/mix`}>
                Plan the layers
              </Link>
            ) : (
              <Button variant="act" className="btn-deed" disabled={onPeople.busy} onClick={suggest}>
                {onPeople.busy ? "Looking for skin…" : "Suggest spots"}
              </Button>
            ))}
        </footer>
      </aside>
    </main>
  );
}
