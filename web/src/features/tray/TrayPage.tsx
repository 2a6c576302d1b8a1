import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { server, type Tray } from "../../api/client";
import { trayQuery, useTrays } from "../../api/queries";
import { AddSticks } from "../../ui/AddSticks";
import { useKeys } from "../../ui/keys";
import { RemovedList } from "../../ui/LazyRemoved";
import { Segments } from "../../ui/Segments";
import { useNoun } from "../../ui/useNoun";
import { BoxMenu } from "./BoxMenu";
import { Lesson } from "./Lesson";
import { MarkedPanel } from "./MarkedPanel";
import { PapersPanel } from "./PapersPanel";
import { StickPanel } from "./StickPanel";
import { Sticks, VIEWS, type View } from "./Sticks";
import { ToBuy } from "./ToBuy";
import { useBox } from "./useBox";
import "./tray.css";

export function TrayPage() {
  const [part, setPart] = useState("box");
  const trays = useTrays();
  const queries = useQueryClient();
  const [open, setOpen] = useState<string | null>(null);
  const [adding, setAdding] = useState<"here" | "new" | null>(null);
  const chosen = trays.data?.find((tray) => tray.id === open) ?? trays.data?.[0];
  const shown = useQuery({ ...trayQuery(chosen?.id ?? ""), enabled: chosen !== undefined }).data;
  const put = (tray: Tray) => {
    setAdding(null);
    setOpen(tray.id);
  };
  return (
    <main className="tray-page">
      <Segments label="What to see" choices={["box", "to buy", "papers"]} chosen={part} onChoose={setPart} />
      {part === "papers" ? (
        <PapersPanel />
      ) : shown && part === "to buy" ? (
        <ToBuy key={shown.id} tray={shown} onOpen={setOpen} />
      ) : shown ? (
        <OneBox
          key={shown.id}
          tray={shown}
          onOpen={setOpen}
          onAdd={() => setAdding("here")}
          onNew={() => setAdding("new")}
          onDelete={async () => {
            await server.deleteTray(shown.id);
            setOpen(null);
            await Promise.all(
              ["trays", "removed"].map((key) => queries.invalidateQueries({ queryKey: [key] })),
            );
          }}
        />
      ) : chosen || !trays.data ? (
        <section className="wait">Opening the box…</section>
      ) : (
        <section className="empty">
          <h1>What do you draw with?</h1>
          <p>
            Type the names or numbers of what you have, paste a list, or tick what you own of a range. Plans
            are made with that alone.
          </p>
          <Button variant="act" className="btn-deed" onClick={() => setAdding("new")}>
            Put in what you have
          </Button>
        </section>
      )}
      {part === "box" && <RemovedList kind="tray" />}
      {adding && (
        <AddSticks
          show
          tray={adding === "here" && shown ? shown : null}
          medium={shown?.sticks[0]?.medium}
          onClose={() => setAdding(null)}
          onPut={put}
        />
      )}
    </main>
  );
}

type OneBoxProps = {
  tray: Tray;
  onOpen: (id: string) => void;
  onAdd: () => void;
  onNew: () => void;
  onDelete: () => void;
};

function OneBox({ tray, onOpen, onAdd, onNew, onDelete }: OneBoxProps) {
  const trays = useTrays().data ?? [];
  const box = useBox(tray);
  const noun = useNoun(tray.sticks);
  const [view, setView] = useState<View>("by value and hue");
  const [typed, setTyped] = useState("");
  const [picked, setPicked] = useState<string | null>(tray.sticks[0]?.code ?? null);
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set());
  const [marking, setMarking] = useState(false);
  const [lesson, setLesson] = useState(false);
  const stick = tray.sticks.find((row) => row.code === picked) ?? tray.sticks[0];
  const there = [...marked].filter((code) => tray.sticks.some((row) => row.code === code));
  const mark = (code: string) => {
    const next = new Set(marked);
    if (!next.delete(code)) next.add(code);
    setMarked(next);
  };
  const none = () => {
    setMarked(new Set());
    setMarking(false);
  };
  useKeys([
    { key: "Ctrl+z", does: "Undo what was done to this box", run: box.undo },
    { key: "Ctrl+y", does: "Do it again", run: box.redo },
    { key: "a", does: "Put in what you have", run: onAdd },
    ...VIEWS.map((each, i) => ({
      key: String(i + 1),
      does: `Show the ${noun}s ${each}`,
      run: () => setView(each),
    })),
    ...(["good", "low", "dried_out", "wanted"] as const).map((condition, i) => ({
      key: "hlyw"[i] as string,
      does: `The picked ${noun} is ${["here", "nearly gone", "dried out", "wanted"][i]}`,
      run: () => stick && box.change([stick.code], { condition }),
    })),
  ]);
  return (
    <>
      <header className="tray-head">
        <h1>
          <Form.Select
            aria-label="Which box"
            className="box-name"
            value={tray.id}
            onChange={(event) => (event.target.value ? onOpen(event.target.value) : onNew())}
          >
            {trays.map((row) => (
              <option key={row.id} value={row.id}>
                {row.name}
              </option>
            ))}
            <option value="">another box …</option>
          </Form.Select>
        </h1>
        <span className="tray-counts">{counts(tray)}</span>
        <Form.Select
          size="sm"
          aria-label="How they are laid out"
          value={view}
          onChange={(event) => setView(event.target.value as View)}
        >
          {VIEWS.map((each) => (
            <option key={each}>{each}</option>
          ))}
        </Form.Select>
        <Form.Control
          size="sm"
          type="search"
          aria-label="Find"
          placeholder="find"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <BoxMenu
          tray={tray}
          box={box}
          marking={marking}
          onMark={() => (marking ? none() : setMarking(true))}
          onMarkAll={() => {
            setMarking(true);
            setMarked(new Set(tray.sticks.map((row) => row.code)));
          }}
          onNew={onNew}
          onLesson={() => setLesson(true)}
          onDelete={onDelete}
        />
        <span className="bar-gap" />
        {tray.undoes && (
          <Button variant="quiet" size="sm" disabled={box.busy} onClick={box.undo}>
            Undo <span className="hint">{tray.undoes}</span>
          </Button>
        )}
        {tray.redoes && (
          <Button variant="quiet" size="sm" disabled={box.busy} onClick={box.redo}>
            Redo
          </Button>
        )}
        <Button variant="act" onClick={onAdd} title="a">
          Add {noun}s
        </Button>
      </header>
      {lesson && <Lesson show tray={tray} onPick={setPicked} onClose={() => setLesson(false)} />}
      {box.problem && (
        <p className="problem" role="alert">
          {box.problem}
        </p>
      )}
      <p className="visually-hidden" role="status">
        {box.said && `Undone or done again: ${box.said}.`}
      </p>
      {tray.sticks.length === 0 ? (
        <section className="empty">
          <h2>Nothing in this box yet</h2>
          <Button variant="act" className="btn-deed" onClick={onAdd}>
            Put in what you have
          </Button>
        </section>
      ) : (
        <div className="tray-table">
          <Sticks
            tray={tray}
            view={view}
            typed={typed}
            picked={stick?.code ?? null}
            marked={marked}
            marking={marking}
            onPick={setPicked}
            onMark={mark}
            onOrder={box.order}
          />
          {there.length > 0 ? (
            <MarkedPanel tray={tray} others={trays} codes={there} box={box} onNone={none} />
          ) : (
            stick && <StickPanel key={stick.code} tray={tray} stick={stick} box={box} onPick={setPicked} />
          )}
        </div>
      )}
    </>
  );
}

/** “68 here, 2 nearly gone”. */
function counts(tray: Tray): string {
  const words = { good: "here", low: "nearly gone", dried_out: "dried out", wanted: "wanted" };
  return Object.entries(words)
    .map(
      ([condition, said]) => [tray.sticks.filter((row) => row.condition === condition).length, said] as const,
    )
    .filter(([count]) => count > 0)
    .map(([count, said]) => `${count} ${said}`)
    .join(", ");
}
