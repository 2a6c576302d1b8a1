import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { Button, Form, Offcanvas } from "react-bootstrap";
import { type Schemas, server, type Tray } from "../api/client";
import { problemOf, useWrite } from "../api/mutations";
import { trayQuery, useMaterials } from "../api/queries";
import { FromList } from "./FromList";
import { FromPhoto } from "./FromPhoto";
import { FromRange } from "./FromRange";
import { typed } from "./newStick";
import { Segments } from "./Segments";
import "./style/sticks.css";

export type NewStick = Schemas["NewStickRequest"];

const WAYS = ["by name or list", "by photograph", "from a range"] as const;
type Way = (typeof WAYS)[number];

type Props = {
  show: boolean;
  /** The box they are put into; a new one where there is none. */
  tray: { id: string; name: string } | null;
  /** What they are, unless they say otherwise. */
  medium?: string;
  onClose: () => void;
  onPut: (tray: Tray, medium: string) => void;
};

/** Sticks put into a box, from what one has: names, numbers, a list from anywhere, a range. */
export function AddSticks({ show, tray, medium: usual = "pencil", onClose, onPut }: Props) {
  const queries = useQueryClient();
  const media = useMaterials().data?.media ?? [];
  const [way, setWay] = useState<Way>(WAYS[0]);
  const [medium, setMedium] = useState(usual);
  const [sticks, setSticks] = useState<NewStick[]>([]);
  const [again, setAgain] = useState(false);
  const take = useCallback((found: NewStick[], known = false) => {
    setSticks(found);
    setAgain(known);
  }, []);
  const [name, setName] = useState("My box");
  const put = useWrite(
    async () => {
      const into = tray?.id ?? (await server.addTray({ name: name.trim() || "My box" })).id;
      return server.putSticks(into, sticks, again);
    },
    ["trays"],
    (changed) => {
      queries.setQueryData(trayQuery(changed.id).queryKey, changed);
      setSticks([]);
      typed.forget();
      onPut(changed, most(sticks) ?? medium);
    },
  );
  const word = media.find((row) => row.id === medium)?.word ?? "stick";
  const all = new Set(sticks.map((stick) => stick.medium)).size > 1 ? "stick" : word;
  const problem = problemOf(put.error, "");
  return (
    <Offcanvas
      show={show}
      onHide={onClose}
      placement="end"
      className="add-sticks"
      aria-labelledby="add-sticks"
    >
      <Offcanvas.Body>
        <div className="add-head">
          <h2 id="add-sticks">Put in what you have</h2>
          <Button variant="quiet" onClick={onClose}>
            not now
          </Button>
        </div>
        <div className="add-how">
          <Segments
            label="What they are"
            choices={media.map((row) => row.id)}
            chosen={medium}
            onChoose={setMedium}
            say={(id) => media.find((row) => row.id === id)?.name}
          />
          <Segments label="How" choices={WAYS} chosen={way} onChoose={setWay} />
        </div>
        {way === "from a range" ? (
          <FromRange medium={medium} onChange={take} />
        ) : way === "by photograph" ? (
          <FromPhoto medium={medium} tray={tray} onChange={take} />
        ) : (
          <FromList medium={medium} tray={tray} onChange={take} />
        )}
        <footer>
          {!tray && (
            <Form.Group controlId="new-box" className="add-box">
              <Form.Label>into a new box called</Form.Label>
              <Form.Control
                size="sm"
                maxLength={80}
                value={name}
                onChange={(event) => setName(event.target.value)}
              />
            </Form.Group>
          )}
          {problem && (
            <p className="problem" role="alert">
              {problem}
            </p>
          )}
          <Button
            variant="act"
            className="btn-deed"
            disabled={sticks.length === 0 || put.isPending}
            onClick={() => put.mutate(undefined)}
          >
            {put.isPending
              ? "Putting them in …"
              : sticks.length
                ? `${again ? "Set the colours of" : "Put in"} ${sticks.length} ${all}${sticks.length > 1 ? "s" : ""}`
                : "Put them in"}
          </Button>
          {tray && (
            <span className="hint">
              {again
                ? `of ${tray.name}; Undo gives the old ones back`
                : `into ${tray.name}; Undo takes them out again`}
            </span>
          )}
        </footer>
      </Offcanvas.Body>
    </Offcanvas>
  );
}

/** What most of them are. */
function most(sticks: NewStick[]): string | undefined {
  const counts = new Map<string, number>();
  for (const { medium } of sticks) counts.set(medium, (counts.get(medium) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0];
}
