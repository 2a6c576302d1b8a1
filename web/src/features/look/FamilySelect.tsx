import { Form } from "react-bootstrap";
import type { SeenSpot } from "../../api/client";
import { useEditor } from "../../document/useEditor";

type Family = NonNullable<SeenSpot["family"]>;

const FAMILIES: Record<Family, string> = {
  highlight: "in a highlight",
  light: "in the light",
  "half-tone": "in the half-tone",
  "core shadow": "in the shade",
  "reflected light": "in reflected light",
  "cast shadow": "in a cast shadow",
};

/** Which family of the imagined light a spot aims for; none: what the picture shows there. */
export function FamilySelect({ spot, ofPicture = false }: { spot: SeenSpot; ofPicture?: boolean }) {
  const { editSpot } = useEditor();
  return (
    <Form.Select
      size="sm"
      aria-label={`Light on ${spot.name}`}
      value={spot.family ?? ""}
      onChange={(event) => editSpot(spot.id, { family: (event.target.value || null) as Family | null })}
    >
      <option value="">{ofPicture ? "as the picture shows it" : "by its role"}</option>
      {Object.entries(FAMILIES).map(([family, said]) => (
        <option key={family} value={family}>
          {said}
        </option>
      ))}
    </Form.Select>
  );
}
