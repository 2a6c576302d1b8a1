import { useState } from "react";
import { Button } from "react-bootstrap";
import type { Offer, Spot, Study } from "../../api/client";
import { useEditor, usePiece } from "../../document/useEditor";
import { LightArrow, lightWords } from "../../ui/LightArrow";
import { NumberField } from "../../ui/NumberField";
import type { Point } from "../../ui/PictureCanvas";
import { Offers } from "./Offers";
import type { Task } from "./task";

const BALANCE_RADIUS = 0.008;

/** Where the light comes from, and what in the picture is known to be grey or white. */
export function useLight(study: Study | undefined, chosen: Spot | null): Task {
  const piece = usePiece();
  const { edit } = useEditor();
  const { light, balance } = piece.document;
  const { width, height } = piece.picture ?? { width: 1, height: 1 };
  const [aim, setAim] = useState<number | null>(null);
  const [picking, setPicking] = useState(false);
  const set = (from_deg: number | null) =>
    edit((held) => ({ ...held, light: from_deg === null ? null : { from_deg } }));
  const angle = (at: Point) => {
    const degrees = (Math.atan2((0.5 - at.y) * height, (at.x - 0.5) * width) * 180) / Math.PI;
    return Math.round((degrees + 360) % 360) % 360;
  };
  const balanceAt = (at: Point) => {
    edit((held) => ({ ...held, balance: { ...at, radius: BALANCE_RADIUS, eye_white: false } }));
    setPicking(false);
  };
  const balanceOn = (offer: Offer) => edit((held) => ({ ...held, balance: offer.on }));
  const guess = study?.light_from_deg ?? null;
  const shown = aim ?? light?.from_deg ?? null;
  return {
    tool: picking
      ? {
          down: balanceAt,
        }
      : {
          down: (at) => setAim(angle(at)),
          move: (at) => setAim(angle(at)),
          up: (at) => {
            set(angle(at));
            setAim(null);
          },
          cancel: () => setAim(null),
        },
    above: (size) => {
      const reach = Math.min(size.w, size.h) / 2 - 12;
      const turn = ((shown ?? 0) * Math.PI) / 180;
      const from = { x: size.w / 2 + reach * Math.cos(turn), y: size.h / 2 - reach * Math.sin(turn) };
      return (
        <>
          {shown !== null && (
            <g className="light-line">
              <path d={`M${from.x} ${from.y}L${size.w / 2} ${size.h / 2}`} className="line-outer" />
              <path d={`M${from.x} ${from.y}L${size.w / 2} ${size.h / 2}`} className="line-inner" />
              <circle cx={from.x} cy={from.y} r={9} className="light-knob" />
            </g>
          )}
          {!balance &&
            study?.offers.map((offer) => (
              <g
                key={`${offer.on.x} ${offer.on.y}`}
                transform={`translate(${offer.on.x * size.w} ${offer.on.y * size.h})`}
                className="balance-mark"
              >
                <title>{`Could be balanced on: ${offer.kind}`}</title>
                <path d="M-4 0H4M0 -4V4" className="line-outer" />
                <path d="M-4 0H4M0 -4V4" className="line-inner" />
              </g>
            ))}
          {balance && (
            <g transform={`translate(${balance.x * size.w} ${balance.y * size.h})`} className="balance-mark">
              <title>Place of the balance</title>
              <path d="M-9 0H9M0 -9V9" className="line-outer" />
              <path d="M-9 0H9M0 -9V9" className="line-inner" />
            </g>
          )}
        </>
      );
    },
    panel: (
      <>
        <section className="panel-box" aria-label="Light direction">
          <h2 className="h5">Where does the light come from?</h2>
          <div className="light-set">
            {shown !== null && <LightArrow fromDeg={shown} size={64} />}
            <div>
              <p>
                {shown === null ? "Not set yet." : `From ${lightWords(shown)}, `}
                {shown !== null && <span className="numbers">{shown.toFixed(0)}°</span>}
              </p>
              {light === null && guess !== null && (
                <Button variant="quiet" size="sm" onClick={() => set(Math.round(guess))}>
                  It {study?.light_sure ? "seems to be" : "may be"} {lightWords(guess)}: keep
                </Button>
              )}
              {light === null && guess !== null && !study?.light_sure && (
                <p className="doubt">Unsure: the light is soft, from several sides or from below.</p>
              )}
              {study?.light_words && <p className="hint">{study.light_words}</p>}
            </div>
          </div>
          <p className="hint">Press where the light is and pull round the picture, or set the angle:</p>
          <div className="tools">
            <NumberField
              label="degrees, 0 right, 90 above"
              value={shown === null ? null : Math.round(shown)}
              low={0}
              high={359}
              onSet={set}
            />
            <Button variant="quiet" size="sm" disabled={light === null} onClick={() => set(null)}>
              Remove
            </Button>
          </div>
          <p className="hint">It is kept for the whole piece and printed on its sheets.</p>
        </section>
        <section className="panel-box" aria-label="Balance">
          <h2 className="h5">Balance</h2>
          <p className="hint">
            {balance
              ? `Balanced on ${balance.eye_white ? "an eye white" : "a grey"}. Depth and undertone follow the balanced picture; spots and targets stay as photographed.`
              : "Is something in the picture grey or white in daylight? Then the lamp's cast can be told from the skin's own colour. Targets stay as photographed."}
          </p>
          {!balance && study && study.offers.length > 0 && <Offers study={study} onTake={balanceOn} />}
          <div className="tools">
            <Button
              variant={picking ? "chosen" : "quiet"}
              size="sm"
              aria-pressed={picking}
              onClick={() => setPicking(!picking)}
            >
              {picking ? "Now click on it" : balance ? "Choose another grey" : "Point at a grey or white"}
            </Button>
            {chosen && (
              <Button variant="quiet" size="sm" onClick={() => balanceAt({ x: chosen.x, y: chosen.y })}>
                {chosen.name} is grey
              </Button>
            )}
            <Button
              variant="quiet"
              size="sm"
              disabled={!balance}
              onClick={() => edit((held) => ({ ...held, balance: null }))}
            >
              Remove the balance
            </Button>
          </div>
        </section>
      </>
    ),
  };
}
