import type { Around, KeyLight, Lamp, Piece, Sitter, Skin } from "../../api/client";

/** Who sits under which light: what the server is asked to show. */
export type Scene = {
  sitters: Sitter[];
  key: KeyLight;
  around: Around[];
  exposure: number;
  /** Below 0: as usual for the lamp. */
  settled: number;
  sheen: number;
  bleeding: number;
};

export const MOST_SITTERS = 6;
export const MOST_AROUND = 4;
export const BULB: Lamp = { kind: "glow", kelvin: 2700, gel: "", gel_colour: "ffffff" };

export const SKIN: Skin = {
  depth: 52,
  undertone: 50,
  strength: 50,
  flush: 0.15,
  sun: 0,
  freckles: 0,
  beard: 0,
  age: 0,
};

export const sitter = (name: string, skin: Skin = SKIN): Sitter => ({
  name,
  skin,
  shown: "head",
  turn: 12,
  tilt: 0,
});

export const AROUND: Around = {
  kind: "even",
  lamp: { kind: "daylight", kelvin: 6500, gel: "", gel_colour: "ffffff" },
  level: 0.12,
  azimuth: 90,
  height: 0,
  cloth: "b04030",
};

export const FIRST: Scene = {
  sitters: [sitter("")],
  key: { lamp: BULB, azimuth: -50, height: 40, softness: 6, level: 1, distance_cm: 0 },
  around: [AROUND],
  exposure: 0,
  settled: -1,
  sheen: 1,
  bleeding: 1,
};

const clamp = (value: number, low: number, high: number) => Math.min(high, Math.max(low, value));
/** Degrees round the circle, −180 to 180. */
export const round180 = (degrees: number) => ((((degrees + 180) % 360) + 360) % 360) - 180;

/** The lamp moved by so many degrees to the right and up. */
export function moved(scene: Scene, right: number, up: number): Scene {
  const { azimuth, height } = scene.key;
  return {
    ...scene,
    key: {
      ...scene.key,
      azimuth: Math.round(round180(azimuth + right)),
      height: Math.round(clamp(height + up, -90, 90)),
    },
  };
}

export const withSitter = (scene: Scene, number: number, change: Partial<Sitter>): Scene => ({
  ...scene,
  sitters: scene.sitters.map((row, i) => (i === number ? { ...row, ...change } : row)),
});

export const withSkin = (scene: Scene, number: number, change: Partial<Skin>): Scene => {
  const held = scene.sitters[number];
  return held ? withSitter(scene, number, { skin: { ...held.skin, ...change } }) : scene;
};

/** A head turned by so many degrees to the right and down. */
export function turned(scene: Scene, number: number, right: number, down: number): Scene {
  const held = scene.sitters[number];
  if (!held) return scene;
  return withSitter(scene, number, {
    turn: Math.round(round180(held.turn + right)),
    tilt: Math.round(clamp(held.tilt + down, -60, 60)),
  });
}

/** What is lit by a lamp, with all that is said of the lamp. */
export const withLamp = <T extends { lamp: Partial<Lamp> }>(held: T) => ({
  ...held,
  lamp: { ...BULB, ...held.lamp },
});

/** The scene that a piece was imagined with. */
export function sceneOf({ document }: Pick<Piece, "document">): Scene | null {
  const held = document.imagined;
  if (!held) return null;
  const { seats, key, around, exposure, settled, sheen, bleeding } = held;
  return {
    sitters: seats.map(({ sitter }) => ({ ...sitter, skin: { ...SKIN, ...sitter.skin } })),
    key: withLamp(key),
    around: around.map(withLamp),
    exposure,
    settled,
    sheen,
    bleeding,
  };
}

const LOW_K = 1500;
const HIGH_K = 15000;
/** A temperature as a place from 0 to 100 on a slider that is even to the eye, and back. */
export const toPlace = (kelvin: number) =>
  Math.round((100 * (1 / LOW_K - 1 / kelvin)) / (1 / LOW_K - 1 / HIGH_K));
export const toKelvin = (place: number) =>
  Math.round(1 / (1 / LOW_K - (place / 100) * (1 / LOW_K - 1 / HIGH_K)) / 50) * 50;

/** A lamp of that temperature: daylight from 5000 K on, unless it is an LED. */
export const lampOf = (lamp: Lamp, kelvin: number): Lamp => ({
  ...lamp,
  kelvin,
  kind: lamp.kind === "led" ? "led" : kelvin >= 5000 ? "daylight" : "glow",
});
