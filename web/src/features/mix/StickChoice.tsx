import { useState } from "react";
import { Dropdown, Form } from "react-bootstrap";
import type { Schemas, Stick } from "../../api/client";
import { StickDot } from "../../ui/Swatch";

type Props = {
  label: string;
  sticks: Stick[];
  tools: Schemas["Tool"][];
  /** The medium whose sticks come first. */
  first: string;
  chosen: string;
  onChoose: (code: string) => void;
};

/** Choosing a stick by swatch, code or name, from dark to light, or something that holds no pigment. */
export function StickChoice({ label, sticks, tools, first, chosen, onChoose }: Props) {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState("");
  const current = sticks.find((stick) => stick.code === chosen);
  const tool = tools.find((candidate) => candidate.code === chosen);
  const name = current?.name ?? tool?.name ?? "not in this tray";
  const wanted = text.trim().toLowerCase();
  const found = (row: { code: string; name: string }) =>
    `${row.code} ${row.name}`.toLowerCase().includes(wanted);
  const shown = sticks
    .filter((stick) => stick.condition === "good" || stick.condition === "low")
    .filter(found)
    .sort(
      (a, b) =>
        Number(b.medium === first) - Number(a.medium === first) ||
        a.medium.localeCompare(b.medium) ||
        a.swatch.value - b.swatch.value,
    );
  return (
    <Dropdown
      className="stick-choice"
      show={open}
      onToggle={(next) => {
        setText("");
        setOpen(next);
      }}
    >
      <Dropdown.Toggle variant="quiet" size="sm" aria-label={`${label}: ${name}`}>
        {!tool && <StickDot hex={current?.hex ?? "transparent"} />}
        {!tool && <b className="numbers">{chosen}</b>} {name}
      </Dropdown.Toggle>
      {open && (
        <Dropdown.Menu className="stick-menu">
          <Form.Control
            autoFocus
            size="sm"
            aria-label="Find a stick"
            placeholder="code or name"
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
          {shown.map((stick) => (
            <Dropdown.Item
              key={stick.code}
              active={stick.code === chosen}
              onClick={() => onChoose(stick.code)}
            >
              <StickDot hex={stick.hex} /> <b className="numbers">{stick.code}</b> {stick.name}{" "}
              <span className="numbers">{stick.swatch.value.toFixed(1)}</span>
            </Dropdown.Item>
          ))}
          {tools.filter(found).map((row) => (
            <Dropdown.Item key={row.code} active={row.code === chosen} onClick={() => onChoose(row.code)}>
              {row.name}
            </Dropdown.Item>
          ))}
        </Dropdown.Menu>
      )}
    </Dropdown>
  );
}
