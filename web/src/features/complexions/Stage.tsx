import { type PointerEvent, useEffect, useRef, useState } from "react";
import { ARROWS } from "../../ui/arrows";
import { curve, type Dome, place } from "./dome";
import { moved, type Scene, turned } from "./scene";
import { useLit } from "./useLit";

const SIDE = 560;
const DOME: Dome = { x: SIDE / 2, y: SIDE * 0.5, radius: SIDE * 0.45 };
const STEP = 5;

type Change = (what: string, make: (scene: Scene) => Scene) => void;
type Props = { scene: Scene; number: number; way: string; from: string; onChange: Change };

/** The sitter in the light: the lamp is dragged round the dome, the head is dragged round itself. */
export function Stage({ scene, number, way, from, onChange }: Props) {
  const { url, trouble } = useLit(scene, number, way);
  const name = scene.sitters[number]?.name || `figure ${number + 1}`;
  const dragging = useDrag((what, right, down) =>
    onChange(what, (now) =>
      what === "lamp" ? moved(now, right * 0.5, -down * 0.4) : turned(now, number, right * 0.4, down * 0.25),
    ),
  );
  const onKeys = (what: "lamp" | "head") => (event: React.KeyboardEvent) => {
    const by = ARROWS[event.key];
    if (!by) return;
    event.preventDefault();
    const [right = 0, down = 0] = by.map((one) => one * STEP);
    onChange(what, (now) => (what === "lamp" ? moved(now, right, -down) : turned(now, number, right, down)));
  };
  const { azimuth, height } = scene.key;
  const held = scene.sitters[number];
  return (
    <div className="stage">
      <button
        type="button"
        className="stage-head"
        aria-label={`${name} turned ${held?.turn ?? 0}° to the right, tilted ${held?.tilt ?? 0}° down. Drag, or use the arrow keys.`}
        onPointerDown={dragging("head")}
        onKeyDown={onKeys("head")}
      >
        {url && <img src={url} alt="" draggable={false} />}
      </button>
      <DomeLines azimuth={azimuth} height={height} />
      <button
        type="button"
        className="stage-lamp"
        style={at(azimuth, height)}
        aria-label={`Lamp ${from}. Drag, or use the arrow keys.`}
        onPointerDown={dragging("lamp")}
        onKeyDown={onKeys("lamp")}
      >
        <LampDrawing azimuth={azimuth} height={height} />
      </button>
      <span className="stage-from">{from}</span>
      {trouble && (
        <p className="problem" role="alert">
          {trouble} The picture is the last that could be made.
        </p>
      )}
    </div>
  );
}

function at(azimuth: number, height: number) {
  const point = place(DOME, azimuth, height);
  return { left: `${(100 * point.x) / SIDE}%`, top: `${(100 * point.y) / SIDE}%` };
}

const RINGS = [0, 30, 60].map((height) => curve(DOME, (share) => [share * 360, height]));
const HALVES = Array.from({ length: 12 }, (_, i) => curve(DOME, (share) => [i * 30, share * 90], 24));
const LINES = [...RINGS, ...HALVES];

function DomeLines({ azimuth, height }: { azimuth: number; height: number }) {
  const round = curve(DOME, (share) => [share * 360, height]);
  const up = curve(DOME, (share) => [azimuth, share * height], 24);
  return (
    <svg className="dome" viewBox={`0 0 ${SIDE} ${SIDE}`} aria-hidden="true">
      <path className="dome-near" d={LINES.map(([near]) => near).join("")} />
      <path className="dome-far" d={LINES.map(([, far]) => far).join("")} />
      <path className="dome-way" d={round.join("") + up.join("")} />
    </svg>
  );
}

/** A lamp that points at the head; hollow where it stands behind it. */
function LampDrawing({ azimuth, height }: { azimuth: number; height: number }) {
  const point = place(DOME, azimuth, height);
  const towards = (Math.atan2(DOME.y - point.y, DOME.x - point.x) * 180) / Math.PI;
  return (
    <svg viewBox="-40 -40 80 80" aria-hidden="true">
      <g transform={`rotate(${towards})`} className={point.near >= 0 ? "lamp" : "lamp is-behind"}>
        <path className="lamp-body" d="M-16 -13 H2 L16 -19 V19 L2 13 H-16 Z" />
        <path className="lamp-ray" d="M22 0 H38 M32 -6 L38 0 L32 6" />
      </g>
    </svg>
  );
}

/** Starts a drag; tells how far it went, in pixels, each time it goes farther. */
function useDrag(go: (what: "lamp" | "head", right: number, down: number) => void) {
  const [what, setWhat] = useState<"lamp" | "head" | null>(null);
  const last = useRef({ x: 0, y: 0 });
  const latest = useRef(go);
  latest.current = go;
  useEffect(() => {
    if (!what) return;
    const move = (event: globalThis.PointerEvent) => {
      latest.current(what, event.clientX - last.current.x, event.clientY - last.current.y);
      last.current = { x: event.clientX, y: event.clientY };
    };
    const end = () => setWhat(null);
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", end);
    window.addEventListener("pointercancel", end);
    return () => {
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", end);
      window.removeEventListener("pointercancel", end);
    };
  }, [what]);
  return (which: "lamp" | "head") => (event: PointerEvent) => {
    last.current = { x: event.clientX, y: event.clientY };
    setWhat(which);
  };
}
