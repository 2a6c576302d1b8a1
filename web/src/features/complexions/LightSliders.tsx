import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import type { Around, Lamp, SceneTold, Schemas } from "../../api/client";
import { Gate } from "./Gate";
import { AROUND, BULB, lampOf, MOST_AROUND, type Scene, toKelvin, toPlace, withLamp } from "./scene";

const GELS: Record<Lamp["gel"], string> = {
  "": "no gel",
  red: "red gel",
  amber: "amber gel",
  green: "green gel",
  blue: "blue gel",
  magenta: "magenta gel",
  own: "gel of any colour",
};
const KINDS: Record<Around["kind"], string> = {
  even: "room, from everywhere",
  sky: "sky, from above",
  side: "from a side",
  bounce: "off a cloth below",
};

type Props = {
  scene: Scene;
  told: SceneTold | undefined;
  choices: Schemas["Choices"] | undefined;
  onChange: (what: string, make: (scene: Scene) => Scene) => void;
};

/** The key and everything that shines besides. */
export function LightSliders({ scene, told, choices, onChange }: Props) {
  const [more, setMore] = useState(false);
  const { key, around } = scene;
  const ofKey = (change: Partial<Scene["key"]>) =>
    onChange(Object.keys(change).join(), (now) => ({ ...now, key: { ...now.key, ...change } }));
  const ofScene = (change: Partial<Scene>) =>
    onChange(Object.keys(change).join(), (now) => ({ ...now, ...change }));
  return (
    <div className="gates">
      <Form.Select
        aria-label="A light to begin with"
        value=""
        onChange={(event) => {
          const preset = choices?.presets.find((row) => row.id === event.target.value);
          if (preset) {
            const lit = { key: withLamp(preset.key), around: preset.around.map(withLamp) };
            onChange(preset.id, (now) => ({ ...now, ...lit, exposure: 0, settled: -1 }));
          }
        }}
      >
        <option value="">Begin with a light you know …</option>
        {choices?.presets.map((row) => (
          <option key={row.id} value={row.id}>
            {row.name}
          </option>
        ))}
      </Form.Select>
      <Gate
        label="Lamp"
        says={told?.lamp ?? ""}
        low={0}
        high={100}
        value={toPlace(key.lamp.kelvin)}
        onSet={(at) => ofKey({ lamp: lampOf(key.lamp, toKelvin(at)) })}
      />
      <LampChoices lamp={key.lamp} choices={choices} onSet={(lamp) => ofKey({ lamp })} />
      <Gate
        label="Height"
        says={`${key.height}°`}
        low={-90}
        high={90}
        value={key.height}
        onSet={(height) => ofKey({ height })}
      />
      <Gate
        label="From which side"
        says={`${Math.abs(key.azimuth)}° ${key.azimuth < 0 ? "left" : "right"}`}
        low={-180}
        high={180}
        value={key.azimuth}
        onSet={(azimuth) => ofKey({ azimuth })}
      />
      <Gate
        label="Edge of its shadow"
        says={`${told?.edge ?? ""}, ${key.softness}°`}
        low={1}
        high={25}
        value={key.softness}
        onSet={(softness) => ofKey({ softness })}
      />
      <Gate
        label="Brighter, darker"
        says={`${scene.exposure > 0 ? "+" : ""}${scene.exposure.toFixed(2)} stops`}
        low={-1}
        high={1}
        step={0.05}
        value={scene.exposure}
        onSet={(exposure) => ofScene({ exposure })}
      />
      <h2>Light from around</h2>
      {around.map((row, i) => (
        <OneAround
          // biome-ignore lint/suspicious/noArrayIndexKey: they are told apart by their place alone
          key={i}
          row={row}
          onSet={(change) =>
            onChange(`around ${i} ${Object.keys(change).join()}`, (now) => ({
              ...now,
              around: now.around.map((held, j) => (i === j ? { ...held, ...change } : held)),
            }))
          }
          onRemove={() => ofScene({ around: around.filter((_, j) => i !== j) })}
        />
      ))}
      {around.length < MOST_AROUND && (
        <Button variant="quiet" size="sm" onClick={() => ofScene({ around: [...around, AROUND] })}>
          add a light from around
        </Button>
      )}
      <Button variant="quiet" size="sm" aria-expanded={more} onClick={() => setMore(!more)}>
        {more ? "less" : "eye, sheen, a lamp in the picture …"}
      </Button>
      {more && (
        <>
          <Gate
            label="How far the eye has settled"
            says={scene.settled < 0 ? "as usual for this lamp" : `${(100 * scene.settled).toFixed(0)} %`}
            low={-0.05}
            high={1}
            step={0.05}
            value={Math.max(scene.settled, -0.05)}
            onSet={(at) => ofScene({ settled: at < 0 ? -1 : Math.round(at * 100) / 100 })}
          />
          <Gate
            label="Sheen of the skin"
            says={`${scene.sheen.toFixed(1)} ×`}
            low={0}
            high={2}
            step={0.1}
            value={scene.sheen}
            onSet={(sheen) => ofScene({ sheen })}
          />
          <Gate
            label="Strength of the key"
            says={`${key.level.toFixed(1)} ×`}
            low={0}
            high={4}
            step={0.1}
            value={key.level}
            onSet={(level) => ofKey({ level })}
          />
          <Gate
            label="How near the lamp is"
            says={key.distance_cm ? `${key.distance_cm} cm, inside the picture` : "far away"}
            low={0}
            high={200}
            step={5}
            value={key.distance_cm}
            onSet={(at) => ofKey({ distance_cm: at < 25 ? 0 : at })}
          />
        </>
      )}
    </div>
  );
}

type LampProps = {
  lamp: Lamp;
  choices: Schemas["Choices"] | undefined;
  onSet: (lamp: Lamp) => void;
};

function LampChoices({ lamp, choices, onSet }: LampProps) {
  const named = choices?.lamps.find(
    (row) => row.lamp.kind === lamp.kind && row.lamp.kelvin === lamp.kelvin,
  )?.name;
  return (
    <div className="lamp-choices">
      <Form.Select
        size="sm"
        aria-label="Which lamp"
        value={named ?? ""}
        onChange={(event) => {
          const found = choices?.lamps.find((row) => row.name === event.target.value)?.lamp;
          if (found) onSet({ ...BULB, ...found, gel: lamp.gel, gel_colour: lamp.gel_colour });
        }}
      >
        {!named && <option value="">{lamp.kelvin} K</option>}
        {choices?.lamps.map((row) => (
          <option key={row.name}>{row.name}</option>
        ))}
      </Form.Select>
      <GelChoice lamp={lamp} onSet={onSet} />
    </div>
  );
}

function GelChoice({ lamp, onSet }: Pick<LampProps, "lamp" | "onSet">) {
  return (
    <>
      <Form.Select
        size="sm"
        aria-label="Gel"
        value={lamp.gel}
        onChange={(event) => onSet({ ...lamp, gel: event.target.value as Lamp["gel"] })}
      >
        {Object.entries(GELS).map(([gel, name]) => (
          <option key={gel} value={gel}>
            {name}
          </option>
        ))}
      </Form.Select>
      {lamp.gel === "own" && (
        <input
          type="color"
          aria-label="Colour of the gel"
          value={`#${lamp.gel_colour}`}
          onChange={(event) => onSet({ ...lamp, gel_colour: event.target.value.slice(1) })}
        />
      )}
    </>
  );
}

type AroundProps = { row: Around; onSet: (change: Partial<Around>) => void; onRemove: () => void };

function OneAround({ row, onSet, onRemove }: AroundProps) {
  const name = KINDS[row.kind];
  return (
    <div className="around">
      <Form.Select
        size="sm"
        aria-label="Where it comes from"
        value={row.kind}
        onChange={(event) => onSet({ kind: event.target.value as Around["kind"] })}
      >
        {Object.entries(KINDS).map(([kind, said]) => (
          <option key={kind} value={kind}>
            {said}
          </option>
        ))}
      </Form.Select>
      {row.kind === "bounce" && (
        <input
          type="color"
          aria-label="Colour of the cloth"
          value={`#${row.cloth}`}
          onChange={(event) => onSet({ cloth: event.target.value.slice(1) })}
        />
      )}
      <Button variant="quiet" size="sm" aria-label={`remove: ${name}`} onClick={onRemove}>
        remove
      </Button>
      <Gate
        label="How strong"
        says={`${(100 * row.level).toFixed(0)} % of the key`}
        low={0}
        high={1}
        step={0.01}
        value={row.level}
        onSet={(level) => onSet({ level })}
      />
      {row.kind !== "bounce" && (
        <Gate
          label="Its colour"
          says={`${row.lamp.kelvin} K`}
          low={0}
          high={100}
          value={toPlace(row.lamp.kelvin)}
          onSet={(at) => onSet({ lamp: lampOf(row.lamp, toKelvin(at)) })}
        />
      )}
      {row.kind === "side" && <GelChoice lamp={row.lamp} onSet={(lamp) => onSet({ lamp })} />}
      {row.kind === "side" && (
        <Gate
          label="From which side"
          says={`${Math.abs(row.azimuth)}° ${row.azimuth < 0 ? "left" : "right"}`}
          low={-180}
          high={180}
          value={row.azimuth}
          onSet={(azimuth) => onSet({ azimuth })}
        />
      )}
    </div>
  );
}
