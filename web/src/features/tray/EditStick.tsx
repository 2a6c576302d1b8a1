import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { Schemas, Stick } from "../../api/client";
import { useMaterials } from "../../api/queries";
import { LikeAnother } from "../../ui/LikeAnother";
import { Strokes } from "../../ui/Strokes";

type Change = Schemas["StickChangeRequest"];

type Props = {
  stick: Stick;
  sticks: Stick[];
  onChange: (change: Change) => void;
  onDone: () => void;
};

/** Number, name, kind and colour of a stick: by eye, by a colour code, or as another one has it. */
export function EditStick({ stick, sticks, onChange, onDone }: Props) {
  const media = useMaterials().data?.media ?? [];
  const [code, setCode] = useState(stick.code);
  const [name, setName] = useState(stick.name);
  const [medium, setMedium] = useState(stick.medium);
  const [opacity, setOpacity] = useState(stick.opacity);
  const [hex, setHex] = useState(stick.hex);
  const [like, setLike] = useState(false);
  const valid = /^#[0-9a-f]{6}$/.test(hex) && code.trim() !== "" && name.trim() !== "";
  const send = (event: React.FormEvent) => {
    event.preventDefault();
    const change: Change = {};
    if (code.trim() !== stick.code) change.code = code.trim();
    if (name.trim() !== stick.name) change.name = name.trim();
    if (medium !== stick.medium) change.medium = medium;
    if (opacity !== stick.opacity) change.opacity = opacity;
    if (hex !== stick.hex) {
      change.hex = hex;
      change.source = like ? "like another" : "picked";
    }
    if (Object.keys(change).length) onChange(change);
    else onDone();
  };
  return (
    <Form className="edit-stick" onSubmit={send} onKeyDown={(event) => event.key === "Escape" && onDone()}>
      <Form.Group controlId="stick-code">
        <Form.Label>Number</Form.Label>
        <Form.Control
          size="sm"
          maxLength={80}
          value={code}
          onChange={(event) => setCode(event.target.value)}
        />
      </Form.Group>
      <Form.Group controlId="stick-name">
        <Form.Label>Name</Form.Label>
        <Form.Control
          size="sm"
          autoFocus
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </Form.Group>
      <Form.Group controlId="stick-medium">
        <Form.Label>What it is</Form.Label>
        <Form.Select size="sm" value={medium} onChange={(event) => setMedium(event.target.value)}>
          {media.map((row) => (
            <option key={row.id} value={row.id}>
              {row.name}
            </option>
          ))}
        </Form.Select>
      </Form.Group>
      <Form.Group controlId="stick-opacity">
        <Form.Label>How it covers</Form.Label>
        <Form.Select size="sm" value={opacity} onChange={(event) => setOpacity(event.target.value)}>
          <option value="transparent">shines through</option>
          <option value="semi">in part</option>
          <option value="opaque">covers</option>
        </Form.Select>
      </Form.Group>
      <div className="edit-colour">
        <span className="before-after">
          <Strokes hex={stick.hex} pressure="heavy" medium={stick.medium} />
          <Strokes hex={/^#[0-9a-f]{6}$/.test(hex) ? hex : stick.hex} pressure="heavy" medium={medium} />
        </span>
        <input
          type="color"
          aria-label="Colour by eye"
          value={/^#[0-9a-f]{6}$/.test(hex) ? hex : stick.hex}
          onChange={(event) => {
            setLike(false);
            setHex(event.target.value);
          }}
        />
        <Form.Control
          size="sm"
          aria-label="Colour code"
          value={hex}
          maxLength={7}
          isInvalid={!/^#[0-9a-f]{6}$/.test(hex)}
          onChange={(event) => {
            setLike(false);
            setHex(event.target.value.trim().toLowerCase());
          }}
        />
      </div>
      <LikeAnother
        label="Its colour is like"
        hex={valid ? hex : ""}
        sticks={sticks.filter((row) => row.code !== stick.code)}
        onSet={(next) => {
          setLike(true);
          setHex(next);
        }}
      />
      <div className="edit-done">
        <Button variant="quiet" size="sm" onClick={onDone}>
          leave it
        </Button>
        <Button variant="act" size="sm" type="submit" disabled={!valid}>
          Keep this
        </Button>
      </div>
    </Form>
  );
}
