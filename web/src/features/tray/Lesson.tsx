import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form, Offcanvas } from "react-bootstrap";
import { server, type Tray } from "../../api/client";
import { problemOf } from "../../api/mutations";
import { useMaterials } from "../../api/queries";
import { Segments } from "../../ui/Segments";
import { Strokes } from "../../ui/Strokes";
import { useSettled } from "../../ui/useSettled";
import { StandInRow } from "./StandIns";

const SETTLED_MS = 300;

type Props = { tray: Tray; show: boolean; onPick: (code: string) => void; onClose: () => void };

/** Somebody's list of sticks, and for each the one of this box that does the same. */
export function Lesson({ tray, show, onPick, onClose }: Props) {
  const media = useMaterials().data?.media ?? [];
  const [text, setText] = useState("");
  const [medium, setMedium] = useState(tray.sticks[0]?.medium ?? "pencil");
  const settled = useSettled(text, SETTLED_MS);
  const { data, error } = useQuery({
    queryKey: ["lesson", tray.id, settled, medium],
    queryFn: () => server.lesson(tray.id, { text: settled, medium }),
    enabled: settled.trim() !== "",
    retry: false,
  });
  return (
    <Offcanvas show={show} onHide={onClose} placement="end" className="add-sticks" aria-labelledby="lesson">
      <Offcanvas.Body>
        <header>
          <h2 id="lesson">The lesson says …</h2>
          <Button variant="quiet" onClick={onClose}>
            done
          </Button>
        </header>
        <Segments
          label="What they are"
          choices={media.map((row) => row.id)}
          chosen={medium}
          onChoose={setMedium}
          say={(id) => media.find((row) => row.id === id)?.name}
        />
        <Form.Group controlId="lesson-list">
          <Form.Label>Paste what somebody else names, one in each line.</Form.Label>
          <Form.Control
            as="textarea"
            autoFocus
            rows={5}
            value={text}
            spellCheck={false}
            onChange={(event) => setText(event.target.value)}
          />
        </Form.Group>
        {error && settled.trim() !== "" && (
          <p className="problem" role="alert">
            {problemOf(error, "")}
          </p>
        )}
        <ul className="lesson-rows" aria-label="Your own for each">
          {settled.trim() !== "" &&
            data?.map(({ asked, own }) => (
              <li key={asked.number}>
                <span className="lesson-asked">
                  {asked.hex && <Strokes hex={asked.hex} pressure="heavy" medium={asked.medium} />}
                  <span>{asked.name}</span>
                </span>
                {own[0] ? (
                  <span className="lesson-own">
                    <StandInRow
                      row={own[0]}
                      onPick={(code) => {
                        onPick(code);
                        onClose();
                      }}
                    />
                  </span>
                ) : (
                  <span className="hint">
                    {asked.wrong[0]?.said ?? "Nothing of its kind is in this box."}
                  </span>
                )}
              </li>
            ))}
        </ul>
      </Offcanvas.Body>
    </Offcanvas>
  );
}
