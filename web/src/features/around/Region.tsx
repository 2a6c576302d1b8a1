import { Button, Form } from "react-bootstrap";
import type { RampOffer, RegionShown } from "../../api/around";
import type { Schemas } from "../../api/client";
import { useLimits } from "../../api/queries";
import { Slider } from "../../ui/Slider";

export type Surrounding = Schemas["Document"]["surroundings"][number];

const KINDS: Surrounding["kind"][] = ["hair", "cloth", "ground", "other"];
const SHADED: Record<RampOffer["shade"], string> = {
  darker: "shaded by a darker one",
  complement: "shaded by the complement",
};
/** What is laid, whatever the layers are called. */
const laid = (rows: { stick: string; levels: Record<string, unknown> }[]) =>
  JSON.stringify(rows.map((row) => [row.stick, PARTS.map((part) => row.levels[part] ?? null)]));
const PARTS = ["light", "middle", "shade"];

type Props = {
  region: Surrounding;
  told: RegionShown | undefined;
  open: boolean;
  onOpen: () => void;
  onChange: (part: Partial<Surrounding>) => void;
  onRemove: () => void;
};

/** A region: what it is, how far it goes, and the ramp it gets. */
export function Region({ region, told, open, onOpen, onChange, onRemove }: Props) {
  const limits = useLimits();
  const planned = told && told.planned.length > 0;
  return (
    <section className={`region${open ? " is-open" : ""}`} aria-label={region.name}>
      <h2>
        <button type="button" aria-expanded={open} onClick={onOpen}>
          {region.name}
        </button>
        {told && told.wanted.length > 0 && (
          <Ramp wanted={told.wanted} planned={planned ? told.planned : []} name={region.name} />
        )}
      </h2>
      {told?.trouble && (
        <p className="problem" role="note">
          {told.trouble}
        </p>
      )}
      {planned && !open && (
        <p className="hint">{told.lines.map((line) => `${line.stick} ${line.name}`).join(", ")}</p>
      )}
      {open && (
        <>
          <div className="region-is">
            <Form.Control
              aria-label={`Name of ${region.name}`}
              maxLength={limits.name}
              defaultValue={region.name}
              key={region.name}
              onBlur={(event) => {
                const name = event.target.value.trim();
                if (name && name !== region.name) onChange({ name });
              }}
            />
            <Form.Select
              aria-label={`What ${region.name} is`}
              value={region.kind}
              onChange={(event) => onChange({ kind: event.target.value as Surrounding["kind"] })}
            >
              {KINDS.map((kind) => (
                <option key={kind}>{kind}</option>
              ))}
            </Form.Select>
          </div>
          <Slider
            label={`How far ${region.name} goes`}
            words="how far it goes"
            value={Math.round(100 * region.reach)}
            low={0}
            high={100}
            step={5}
            onSet={(to) => onChange({ reach: to / 100 })}
          />
          <p className="hint">
            Tap into it where something is missing; drag a point that lies wrong.
            {region.more.length > 0 && (
              <Button variant="quiet" size="sm" onClick={() => onChange({ more: region.more.slice(0, -1) })}>
                remove the last point
              </Button>
            )}
          </p>
          <div className="region-offers">
            {told?.offers.map((offer) => (
              <Offer
                key={offer.shade}
                offer={offer}
                wanted={told.wanted}
                taken={region.layers.length > 0 && laid(region.layers) === laid(offer.layers)}
                onTake={() => onChange({ shade: offer.shade, layers: offer.layers })}
              />
            ))}
          </div>
          {told && told.offers.length === 0 && !told.trouble && (
            <p className="hint">Choose what you draw with in Mix: ramps are made from what you have.</p>
          )}
          <div className="around-deeds">
            {region.layers.length > 0 && (
              <Button variant="quiet" size="sm" onClick={() => onChange({ layers: [] })}>
                leave it unplanned
              </Button>
            )}
            <Button variant="quiet" size="sm" onClick={onRemove}>
              remove {region.name}
            </Button>
          </div>
        </>
      )}
    </section>
  );
}

type OfferProps = { offer: RampOffer; wanted: RegionShown["wanted"]; taken: boolean; onTake: () => void };

function Offer({ offer, wanted, taken, onTake }: OfferProps) {
  if (offer.trouble)
    return (
      <div className="region-offer">
        <h3>{SHADED[offer.shade]}</h3>
        <p className="hint">{offer.trouble}</p>
      </div>
    );
  return (
    <div className={`region-offer${taken ? " is-taken" : ""}`}>
      <h3>
        {SHADED[offer.shade]} <span className="hint">{offer.close}</span>
      </h3>
      <Ramp wanted={wanted} planned={offer.swatches} name={SHADED[offer.shade]} />
      <ol>
        {offer.lines.map((line, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a layer is its place in the order
          <li key={i}>
            <span className="stick-dot" style={{ background: line.hex }} /> <b>{line.stick}</b> {line.name}{" "}
            {line.where}: {line.how}
          </li>
        ))}
      </ol>
      {offer.shared > 0 && <p className="hint">{offer.shared} of them in the skin, too</p>}
      <Button variant={taken ? "chosen" : "quiet"} size="sm" aria-pressed={taken} onClick={onTake}>
        {taken ? "used" : "use this"}
      </Button>
    </div>
  );
}

/** Light, middle and shade: wanted above, as they will be below, touching. */
function Ramp({
  wanted,
  planned,
  name,
}: {
  wanted: RegionShown["wanted"];
  planned: RegionShown["wanted"];
  name: string;
}) {
  const said = PARTS.map(
    (part, i) =>
      `${part} ${wanted[i]?.value.toFixed(1)}${planned[i] ? ` will be ${planned[i]?.value.toFixed(1)}` : ""}`,
  );
  return (
    <span className="region-ramp" role="img" aria-label={`${name}: ${said.join(", ")}`}>
      {wanted.map((swatch, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a part is its place
        <span key={i}>
          <i style={{ background: swatch.hex }} />
          {planned[i] && <i style={{ background: planned[i].hex }} />}
        </span>
      ))}
    </span>
  );
}
