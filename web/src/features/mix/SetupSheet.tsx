import { type ReactNode, useId } from "react";
import { Form } from "react-bootstrap";
import type { Schemas } from "../../api/client";
import { useMaterials, usePapers, useTrays } from "../../api/queries";
import { useEditor, usePiece } from "../../document/useEditor";

const PALETTE_SIZES = [2, 3, 4, 5, 6, 7, 8, 9, 10, 12, 14, 16, 18, 20, 24];
export const BLACK: Record<string, string> = { avoid: "never", last: "only last", free: "allowed" };

const NEW = "new";

/** What changes with the medium. */
export const inMedium = (medium: Schemas["Medium"]): Partial<Schemas["Setup"]> => ({
  medium: medium.id,
  method: medium.usual_method,
  paper: medium.usual_paper,
  must_use: [],
  banned: [],
  finish: "layer",
  under: "",
});

type Props = { onClose: () => void; onPutIn: () => void };

/** Tray, medium, paper, method, how many sticks, what about black: what each does to the plan is offered beside it. */
export function SetupSheet({ onClose, onPutIn }: Props) {
  const piece = usePiece();
  const { edit } = useEditor();
  const materials = useMaterials();
  const trays = useTrays();
  const { setup, tray } = piece.document;
  const set = (part: Partial<Schemas["Setup"]>) =>
    edit((document) => ({ ...document, setup: { ...document.setup, ...part } }));
  const media = materials.data?.media ?? [];
  const medium = media.find((row) => row.id === setup.medium);
  const methods = materials.data?.methods.filter((row) => row.medium === setup.medium) ?? [];
  const own = usePapers();
  const papers = [...(materials.data?.papers ?? []), ...(own.data ?? [])].filter((row) =>
    row.media.includes(setup.medium),
  );
  const method = methods.find((row) => row.id === setup.method);
  const change = (id: string) => {
    const next = media.find((row) => row.id === id);
    if (next) set(inMedium(next));
  };
  const work = (id: string) => {
    const next = methods.find((row) => row.id === id);
    const fits = next?.finishes.some((row) => row.id === setup.finish);
    set({ method: id, reserve: next?.reserve ?? false, finish: fits ? setup.finish : "layer" });
  };
  return (
    <div
      className="setup"
      role="group"
      aria-label="Change how you work"
      onKeyDown={(event) => event.key === "Escape" && onClose()}
    >
      <Choice label="Tray">
        {(id) => (
          <Form.Select
            id={id}
            size="sm"
            value={tray ?? ""}
            onChange={(event) =>
              event.target.value === NEW
                ? onPutIn()
                : edit((document) => ({ ...document, tray: event.target.value || null }))
            }
          >
            <option value="">choose …</option>
            {trays.data?.map((row) => (
              <option key={row.id} value={row.id}>
                {row.name} ({row.size})
              </option>
            ))}
            <option value={NEW}>put in what I have …</option>
          </Form.Select>
        )}
      </Choice>
      <Choice label="Medium">
        {(id) => (
          <Form.Select
            id={id}
            size="sm"
            value={setup.medium}
            onChange={(event) => change(event.target.value)}
          >
            {media
              .filter((row) => !row.finishing || row.id === setup.medium)
              .map((row) => (
                <option key={row.id} value={row.id}>
                  {row.name}
                </option>
              ))}
          </Form.Select>
        )}
      </Choice>
      <Choice label="Paper">
        {(id) => (
          <Form.Select
            id={id}
            size="sm"
            value={setup.paper}
            onChange={(event) => set({ paper: event.target.value })}
          >
            {papers.map((row) => (
              <option key={row.id} value={row.id} title={row.note}>
                {row.name}
              </option>
            ))}
          </Form.Select>
        )}
      </Choice>
      <Choice label="Method">
        {(id) => (
          <Form.Select
            id={id}
            size="sm"
            title={method?.explanation}
            value={setup.method}
            onChange={(event) => work(event.target.value)}
          >
            {methods.map((row) => (
              <option key={row.id} value={row.id}>
                {row.name}
              </option>
            ))}
          </Form.Select>
        )}
      </Choice>
      <Choice label={`Most ${medium?.word ?? "stick"}s`}>
        {(id) => (
          <Form.Select
            id={id}
            size="sm"
            value={setup.max_sticks}
            onChange={(event) => set({ max_sticks: Number(event.target.value) })}
          >
            <option value={0}>all I own</option>
            {PALETTE_SIZES.map((size) => (
              <option key={size} value={size}>
                {size}
              </option>
            ))}
          </Form.Select>
        )}
      </Choice>
      <Choice label="Most passes">
        {(id) => (
          <Form.Select
            id={id}
            size="sm"
            value={setup.max_passes}
            onChange={(event) => set({ max_passes: Number(event.target.value) })}
          >
            {Array.from({ length: materials.data?.max_passes ?? 0 }, (_, i) => i + 1).map((n) => (
              <option key={n}>{n}</option>
            ))}
          </Form.Select>
        )}
      </Choice>
      <Choice label="Black">
        {(id) => (
          <Form.Select
            id={id}
            size="sm"
            value={setup.black}
            onChange={(event) => set({ black: event.target.value })}
          >
            {materials.data?.black_policies.map((policy) => (
              <option key={policy} value={policy}>
                {BLACK[policy] ?? policy}
              </option>
            ))}
          </Form.Select>
        )}
      </Choice>
      <p className="setup-note">{method?.explanation}</p>
    </div>
  );
}

function Choice({ label, children }: { label: string; children: (id: string) => ReactNode }) {
  const id = useId();
  return (
    <div className="choice">
      <label htmlFor={id}>{label}</label>
      {children(id)}
    </div>
  );
}
