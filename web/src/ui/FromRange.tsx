import { useEffect, useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useMaterials, useRange } from "../api/queries";
import type { NewStick } from "./AddSticks";
import { asNew } from "./newStick";
import { Strokes } from "./Strokes";

type Props = { medium: string; onChange: (sticks: NewStick[]) => void };

/** What one owns of a range, ticked: all of it to begin with. */
export function FromRange({ medium, onChange }: Props) {
  const ranges = useMaterials().data?.ranges.filter((row) => row.medium === medium) ?? [];
  const [chosen, setChosen] = useState("");
  const [off, setOff] = useState<ReadonlySet<string>>(new Set());
  const id = ranges.some((row) => row.id === chosen) ? chosen : (ranges[0]?.id ?? "");
  const sticks = useRange(id).data?.sticks ?? [];
  useEffect(() => {
    onChange(sticks.filter((stick) => !off.has(stick.code)).map(asNew));
  }, [sticks, off, onChange]);
  return (
    <section aria-label="Ticked of a range">
      <div className="range-head">
        <Form.Select
          aria-label="Range"
          value={id}
          onChange={(event) => {
            setChosen(event.target.value);
            setOff(new Set());
          }}
        >
          {ranges.map((row) => (
            <option key={row.id} value={row.id}>
              {row.name} ({row.size})
            </option>
          ))}
        </Form.Select>
        <Button variant="quiet" size="sm" onClick={() => setOff(new Set())}>
          all on
        </Button>
        <Button variant="quiet" size="sm" onClick={() => setOff(new Set(sticks.map((stick) => stick.code)))}>
          all off
        </Button>
      </div>
      <ul className="range-ticks">
        {sticks.map((stick) => (
          <li key={stick.code}>
            <label className={off.has(stick.code) ? "is-off" : ""}>
              <input
                type="checkbox"
                className="form-check-input"
                checked={!off.has(stick.code)}
                onChange={(event) => {
                  const next = new Set(off);
                  if (event.target.checked) next.delete(stick.code);
                  else next.add(stick.code);
                  setOff(next);
                }}
              />
              <Strokes hex={stick.swatch.hex} pressure="medium" medium={stick.medium} />
              <span>
                <b>{stick.code}</b> {stick.name}
              </span>
            </label>
          </li>
        ))}
      </ul>
    </section>
  );
}
