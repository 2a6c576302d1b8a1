import { useMutation } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";
import { Dropdown } from "react-bootstrap";
import { Link } from "react-router";
import { pieceFileUrl, planUrl, SHEET_KINDS, type SheetKind, saveFrom, shownUrl } from "../api/files";
import { problemOf } from "../api/mutations";

const ShareLinks = lazy(() => import("./ShareLinks").then((held) => ({ default: held.ShareLinks })));

type Props = {
  piece: string;
  /** Whether there is a picture that layers have maps on. */
  mapped: boolean;
  /** The layer that is looked at, with its number. */
  layer?: { id: string; number: number } | undefined;
  print?: boolean;
};

/** What of a plan can leave the application: as a sheet, as pictures, as a link, or all of it. */
export function TakeAlong({ piece, mapped, layer, print = false }: Props) {
  const [sharing, setSharing] = useState(false);
  const saving = useMutation({ mutationFn: (address: string) => saveFrom(address, "plan") });
  const rows: [string, (kind: SheetKind) => string][] = [
    ["The plan as a sheet", (kind) => planUrl(piece, kind)],
  ];
  if (mapped) {
    rows.push(["What it becomes", (kind) => shownUrl(piece, "after", kind)]);
    rows.push(["All maps", (kind) => shownUrl(piece, "maps", kind)]);
    if (layer)
      rows.push([`The map of layer ${layer.number}`, (kind) => shownUrl(piece, "maps", kind, layer.id)]);
  }
  const problem = problemOf(saving.error, "Nothing was changed.");
  return (
    <>
      <Dropdown defaultShow>
        <Dropdown.Toggle variant="quiet" size="sm" autoFocus disabled={saving.isPending}>
          {saving.isPending ? "drawing it …" : "take along"}
        </Dropdown.Toggle>
        <Dropdown.Menu align="end" className="take-along">
          {rows.map(([name, address]) => (
            <div key={name} role="group" aria-label={name}>
              <span>{name}</span>
              {SHEET_KINDS.map((kind) => (
                <Dropdown.Item as="button" key={kind} onClick={() => saving.mutate(address(kind))}>
                  {kind.toUpperCase()}
                </Dropdown.Item>
              ))}
            </div>
          ))}
          {print && (
            <Dropdown.Item as={Link} to={`/pieces/${piece}/print`}>
              Print it from here
            </Dropdown.Item>
          )}
          <Dropdown.Item href={pieceFileUrl(piece)} download>
            The whole piece, to take in elsewhere
          </Dropdown.Item>
          <Dropdown.Item as="button" onClick={() => setSharing(true)}>
            Show the plan to somebody …
          </Dropdown.Item>
        </Dropdown.Menu>
      </Dropdown>
      {problem && (
        <span className="problem" role="alert">
          {problem}
        </span>
      )}
      {sharing && (
        <Suspense>
          <ShareLinks piece={piece} onClose={() => setSharing(false)} />
        </Suspense>
      )}
    </>
  );
}
