import { type ReactNode, useId } from "react";
import { Button, Form } from "react-bootstrap";
import type { Schemas } from "../../api/client";
import { useMaterials, usePapers, useTrays } from "../../api/queries";
import { useEditing, useEditor, usePiece } from "../../document/useEditor";
import { useChanged } from "./useChanged";

const PALETTE_SIZES = [2, 3, 4, 5, 6, 7, 8, 9, 10, 12, 14, 16, 18, 20, 24];
const BLACK: Record<string, string> = { avoid: "never", last: "only last", free: "allowed" };

/** Tray, medium, paper, method, how many sticks, what about black. layered: whether the layers are looked at. */
export function SetupBar({ layered }: { layered: boolean }) {
  const piece = usePiece();
  const { edit, solve, plan } = useEditor();
  const busy = useEditing((state) => state.busy);
  const materials = useMaterials();
  const trays = useTrays();
  const { setup, tray, spots } = piece.document;
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
    if (next)
      set({
        medium: id,
        method: next.usual_method,
        paper: next.usual_paper,
        must_use: [],
        banned: [],
        finish: "layer",
        under: "",
      });
  };
  const mixed = spots.some((spot) => spot.recipe);
  const changed = useChanged();
  const work = (id: string) => {
    const next = methods.find((row) => row.id === id);
    const fits = next?.finishes.some((row) => row.id === setup.finish);
    set({ method: id, reserve: next?.reserve ?? false, finish: fits ? setup.finish : "layer" });
    if (!mixed) return;
    changed.watch();
    solve([]);
  };
  return (
    <section className="setup" aria-label="How you work">
      <Choice label="Tray">
        {(id) => (
          <Form.Select
            id={id}
            size="sm"
            value={tray ?? ""}
            onChange={(event) => edit((document) => ({ ...document, tray: event.target.value || null }))}
          >
            <option value="">choose …</option>
            {trays.data?.map((row) => (
              <option key={row.id} value={row.id}>
                {row.name} ({row.size})
              </option>
            ))}
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
      <Button
        variant="act"
        disabled={busy || !tray || spots.length === 0}
        onClick={() => {
          if (layered) {
            plan([], 0);
            return;
          }
          if (mixed) changed.watch();
          solve([]);
        }}
        title={layered ? "p" : "x"}
      >
        {layered
          ? busy
            ? "Planning…"
            : piece.document.layers.length > 0
              ? "Plan all anew"
              : "Plan all in layers"
          : busy
            ? "Mixing…"
            : mixed
              ? "Mix all anew"
              : "Mix all spots"}
      </Button>
      <p className="setup-note">
        {method?.explanation}
        <b aria-live="polite">{changed.said && ` ${changed.said}`}</b>
      </p>
    </section>
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
