import { useRef, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { Refusal, server } from "../../api/client";
import { problemOf, useWrite } from "../../api/mutations";
import { practice } from "../../api/practice";
import { useMaterials, useSticks, useTrays } from "../../api/queries";
import { PictureInput } from "../../ui/PictureInput";
import { useNoun } from "../../ui/useNoun";

/** Five steps of one stick, laid by hand, photographed and measured. */
export function RampByHand({ onDone }: { onDone: () => void }) {
  const file = useRef<HTMLInputElement>(null);
  const trays = useTrays();
  const [tray, setTray] = useState<string | null>(null);
  const [stick, setStick] = useState("");
  const box = tray ?? trays.data?.[0]?.id ?? null;
  const { sticks } = useSticks(box);
  const noun = useNoun(sticks);
  const materials = useMaterials();
  const greys = materials.data?.value_greys ?? [];
  const read = useWrite(practice.ramp, ["practice"]);
  const picture = useWrite(server.addPicture, ["space"], (made) =>
    read.mutate({ picture: made.id, ...(stick && box ? { tray: box, stick } : {}) }),
  );
  const waiting = picture.isPending || read.isPending;
  const error = picture.error ?? read.error;
  const found = read.data;
  return (
    <main className="practice-round">
      <h1>Five steps by hand</h1>
      <ol>
        <li>Take one {noun} that goes dark. On white paper lay five small closed fields, a finger apart.</li>
        <li>
          The first barely there, the last as dark as it goes, the leaps between them even: squint, and
          compare.
        </li>
        <li>Photograph the five from above in even light, with paper all around.</li>
      </ol>
      <div className="practice-stick">
        {(trays.data?.length ?? 0) > 1 && (
          <Form.Select
            size="sm"
            aria-label="From which box"
            value={box ?? ""}
            onChange={(event) => {
              setTray(event.target.value);
              setStick("");
            }}
          >
            {trays.data?.map((row) => (
              <option key={row.id} value={row.id}>
                {row.name}
              </option>
            ))}
          </Form.Select>
        )}
        <Form.Select
          size="sm"
          aria-label={`With which ${noun}`}
          value={stick}
          onChange={(event) => setStick(event.target.value)}
        >
          <option value="">with any {noun}: only how even</option>
          {sticks.map((row) => (
            <option key={row.code} value={row.code}>
              {row.code} {row.name}
            </option>
          ))}
        </Form.Select>
      </div>
      <PictureInput
        input={file}
        onChoose={(chosen) => {
          if (!chosen) return;
          read.reset();
          picture.mutate(chosen);
        }}
      />
      {found && (
        <section aria-label="Your five steps">
          <p role="note">{found.said}</p>
          <table className="practice-ramp">
            <thead>
              <tr>
                <th scope="col">step</th>
                <th scope="col">laid</th>
                <th scope="col">even would be</th>
                <th scope="col">so it is</th>
              </tr>
            </thead>
            <tbody>
              {found.values.map((value, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: a step is its place in the order
                <tr key={i}>
                  <th scope="row">{i + 1}</th>
                  <td>
                    <span className="practice-field" style={{ background: found.hexes[i] }} />{" "}
                    {value.toFixed(1)}
                  </td>
                  <td>
                    <span
                      className="practice-field"
                      style={{ background: greys[Math.round(found.wanted[i] ?? 0)] }}
                    />{" "}
                    {found.wanted[i]?.toFixed(1)}
                  </td>
                  <td>{said(found.errors[i] ?? 0)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      )}
      {error && (
        <p className="problem" role="alert">
          {error instanceof Refusal ? problemOf(error, "") : problemOf(error)}
        </p>
      )}
      <Button variant="quiet" onClick={onDone}>
        back to practice
      </Button>
      <Button variant="act" className="btn-deed" disabled={waiting} onClick={() => file.current?.click()}>
        {waiting ? "Measuring it …" : found ? "Another photograph" : "Choose its photograph"}
      </Button>
    </main>
  );
}

function said(error: number): string {
  if (Math.abs(error) <= 0.5) return "right";
  return `${Math.abs(error).toFixed(1)} too ${error > 0 ? "light" : "dark"}`;
}
