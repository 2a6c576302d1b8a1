import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Button, Form } from "react-bootstrap";
import { type Stick, server } from "../api/client";

type Props = { label: string; hex: string; sticks: Stick[]; onSet: (hex: string) => void };

/** A colour told by that of a stick one has: like it, or like it but a little … */
export function LikeAnother({ label, hex, sticks, onSet }: Props) {
  const { data: shifts } = useQuery({
    queryKey: ["shifts", hex],
    queryFn: () => server.shifts(hex),
    enabled: hex !== "",
    placeholderData: keepPreviousData,
  });
  if (sticks.length === 0) return null;
  return (
    <fieldset className="like-another" aria-label={label}>
      <Form.Select
        size="sm"
        aria-label={label}
        value=""
        onChange={(event) => onSet(sticks.find((row) => row.code === event.target.value)?.hex ?? hex)}
      >
        <option value="">like …</option>
        {sticks.map((row) => (
          <option key={row.code} value={row.code}>
            {row.code} {row.name}
          </option>
        ))}
      </Form.Select>
      {hex !== "" && (
        <>
          <span className="hint">but a little</span>
          {shifts?.map((row) => (
            <Button key={row.way} variant="quiet" size="sm" onClick={() => onSet(row.swatch.hex)}>
              {row.way}
            </Button>
          ))}
        </>
      )}
    </fieldset>
  );
}
