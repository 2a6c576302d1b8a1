import { Form } from "react-bootstrap";
import type { Schemas } from "../../api/client";
import { useEditor, usePiece } from "../../document/useEditor";
import { Choice } from "./Choice";

type Wanted = Schemas["MapsWanted"];

const AREAS: Record<Wanted["areas"], string> = { drawn: "drawn to fit", named: "named areas" };
const MOST_DOSES = 4;
const SMALLEST_MM2 = [7, 15, 30, 60, 120];

/** How the layers' maps are drawn: as areas to be followed or to be called by name, in how many doses, how fine. */
export function MapChoices() {
  const { maps } = usePiece().document;
  const { edit } = useEditor();
  const set = (part: Partial<Wanted>) =>
    edit((document) => ({ ...document, maps: { ...document.maps, ...part } }));
  const sizes = [...new Set([...SMALLEST_MM2, maps.least_mm2])].sort((a, b) => a - b);
  return (
    <>
      <Choice label="Maps">
        {(id) => (
          <Form.Select
            id={id}
            size="sm"
            value={maps.areas}
            onChange={(event) => set({ areas: event.target.value as Wanted["areas"] })}
          >
            {Object.entries(AREAS).map(([areas, words]) => (
              <option key={areas} value={areas}>
                {words}
              </option>
            ))}
          </Form.Select>
        )}
      </Choice>
      <Choice label="Doses of a layer">
        {(id) => (
          <Form.Select
            id={id}
            size="sm"
            value={maps.doses}
            onChange={(event) => set({ doses: Number(event.target.value) })}
          >
            {Array.from({ length: Math.max(MOST_DOSES, maps.doses) }, (_, i) => i + 1).map((n) => (
              <option key={n}>{n}</option>
            ))}
          </Form.Select>
        )}
      </Choice>
      <Choice label="Smallest area">
        {(id) => (
          <Form.Select
            id={id}
            size="sm"
            value={maps.least_mm2}
            onChange={(event) => set({ least_mm2: Number(event.target.value) })}
          >
            {sizes.map((size) => (
              <option key={size} value={size}>
                {size} mm²
              </option>
            ))}
          </Form.Select>
        )}
      </Choice>
    </>
  );
}
