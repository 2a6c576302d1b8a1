import { useState } from "react";
import { Dropdown, Form } from "react-bootstrap";
import type { Stick } from "../../api/client";
import { StickDot } from "../../ui/Swatch";

type Props = { label: string; sticks: Stick[]; chosen: string; onChoose: (code: string) => void };

/** Choosing a stick by swatch, code or name; from dark to light. */
export function StickChoice({ label, sticks, chosen, onChoose }: Props) {
  const [text, setText] = useState("");
  const current = sticks.find((stick) => stick.code === chosen);
  const wanted = text.trim().toLowerCase();
  const shown = sticks
    .filter((stick) => stick.condition === "good" || stick.condition === "low")
    .filter((stick) => `${stick.code} ${stick.name}`.toLowerCase().includes(wanted))
    .sort((a, b) => a.swatch.value - b.swatch.value);
  return (
    <Dropdown className="stick-choice" onToggle={() => setText("")}>
      <Dropdown.Toggle variant="quiet" size="sm" aria-label={`${label}: ${current?.name ?? chosen}`}>
        <StickDot hex={current?.hex ?? "transparent"} />
        <b className="numbers">{chosen}</b> {current?.name ?? "not in this tray"}
      </Dropdown.Toggle>
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
          <Dropdown.Item key={stick.code} active={stick.code === chosen} onClick={() => onChoose(stick.code)}>
            <StickDot hex={stick.hex} /> <b className="numbers">{stick.code}</b> {stick.name}{" "}
            <span className="numbers">{stick.swatch.value.toFixed(1)}</span>
          </Dropdown.Item>
        ))}
      </Dropdown.Menu>
    </Dropdown>
  );
}
