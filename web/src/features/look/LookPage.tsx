import { useEffect, useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { useMaterials, useStudy } from "../../api/queries";
import { usePiece, useSpots as useSeenSpots } from "../../document/useEditor";
import { useKeys } from "../../ui/keys";
import { PictureCanvas } from "../../ui/PictureCanvas";
import { Segments } from "../../ui/Segments";
import { useHeight } from "../../ui/useHeight";
import { useView } from "../../ui/useZoom";
import { ValueLadder } from "../../ui/ValueLadder";
import { PlainPlaces } from "./PlainPlaces";
import { PutPicture } from "./PutPicture";
import { SpotList } from "./SpotPanel";
import type { Task } from "./task";
import { useLight } from "./useLight";
import { useMeasure } from "./useMeasure";
import { usePeople } from "./usePeople";
import { useSpots } from "./useSpots";
import { useWays } from "./useWays";
import { WaysBar } from "./WaysBar";

/** From here on a picture leaves more room below it than beside it. */
const WIDE = 1.25;

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
  const [hovered, setHovered] = useState<string | null>(null);
  const [recent, setRecent] = useState<string[]>(figures.slice(0, 2).map((row) => row.id));
  const materials = useMaterials();
  const study = useStudy(piece.id, piece.keys.study, picture !== null).data;
  const [ladder, ladderHeight] = useHeight();
  const zoom = useView();
  const ways = useWays(piece, materials.data);

  const onLadder = figures.filter((row) => recent.includes(row.id)).slice(0, 2);
  const figure = figures.find((row) => row.id === recent[0]) ?? figures[0];
  const chooseFigure = (id: string) =>
    setRecent((held) => [id, ...held.filter((row) => row !== id)].slice(0, 2));
  const select = (id: string | null) => {
    setSelected(id);
    const owner = spots.find((spot) => spot.id === id)?.figure;
    if (owner && !recent.includes(owner)) chooseFigure(owner);
  };
  const index = spots.findIndex((spot) => spot.id === selected);
  const spot = spots[index];
  const chosenSpot = spot ? { spot, number: index + 1 } : null;
  const wide = picture !== null && picture.width > picture.height * WIDE;
  const onSpots = useSpots({ figure, selected, select, study, withList: !wide });
  const onPeople = usePeople({
    figure: figure?.id ?? "",
    onFigure: chooseFigure,
    study,
    chosen: chosenSpot,
    onPaint: () => ways.see("skin"),
    onTaken: (first) => {
      setSelected(first);
      setTask("spots");
    },
  });
  const onLight = useLight(study, chosenSpot);
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
    {
      key: "a",
      does: "Suggest spots",
      run: () => {
        setTask("people");
        onPeople.suggest();
      },
    },
  ]);

  // The first time places are proposed without being asked for.
  const [asked, setAsked] = useSearchParams();
  const first = asked.has("first") && spots.length === 0 && study !== undefined;
  const suggest = useRef(onPeople.suggest);
  suggest.current = onPeople.suggest;
  useEffect(() => {
    if (!first) return;
    setAsked({}, { replace: true });
    suggest.current();
  }, [first, setAsked]);

  const known = onPeople.proposal?.figures ?? study?.figures ?? figures;
  const faces = known.flatMap((row) => row.face ?? []);
  if (!picture) return document.imagined ? <PlainPlaces /> : <PutPicture />;
  const seen = ways.way.id === "values" ? `in ${ways.amount} values` : ways.way.name.toLowerCase();
  const stage = (url: string, alt: string, lens?: string) => (
    <PictureCanvas
      url={url}
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
  const aspectRatio = ((ways.compare === "beside" ? 2 : 1) * picture.width) / picture.height;
  const chosen = `Reference of ${piece.title}, ${seen}`;
  const plain = `Reference of ${piece.title}, as it is`;
  return (
    <main className="look">
      <h1 className="visually-hidden">Look at {piece.title}</h1>
      <section className="look-picture" aria-label="Reference">
        <WaysBar ways={ways} canBalance={document.balance !== null} colourless={study?.colourless ?? false}>
          <span className="bar-gap" />
          <Link className="btn btn-quiet" to={`/complexions?piece=${piece.id}`}>
            {document.imagined ? "Change the light" : "Imagine a light"}
          </Link>
          <PutPicture again />
        </WaysBar>
        <div className="stages" style={wide ? { flex: "none", maxHeight: "66%", aspectRatio } : undefined}>
          {ways.compare === "beside" && stage(ways.plain, plain)}
          {ways.compare === "window" ? stage(ways.plain, plain, ways.url) : stage(ways.url, chosen)}
        </div>
        {wide && <SpotList selected={selected} onSelect={select} />}
      </section>
      <section className="look-ladder" ref={ladder} aria-label="Values">
        <ValueLadder
          spots={spots}
          figures={figures}
          shown={onLadder.length > 0 ? onLadder : undefined}
          limits={study?.figures}
          reach={piece.found.reach}
          selected={selected}
          onSelect={select}
          hovered={hovered}
          onHover={setHovered}
          height={ladderHeight}
          greys={materials.data?.value_greys ?? []}
        />
      </section>
      <aside className="spot-panel" aria-label={TASKS.find((row) => row.id === task)?.name}>
        <Segments
          large
          label="Work on"
          choices={TASKS.map((row) => row.id)}
          chosen={task}
          onChoose={setTask}
          say={(id) => TASKS.find((row) => row.id === id)?.name}
          hint={(id) => TASKS.find((row) => row.id === id)?.key}
        />
        {now.panel}
        {spots.length > 0 && !onPeople.proposal && (
          <Link className="btn btn-act btn-deed look-on" to={`/pieces/${piece.id}/mix`}>
            On to the layers
          </Link>
        )}
      </aside>
    </main>
  );
}
