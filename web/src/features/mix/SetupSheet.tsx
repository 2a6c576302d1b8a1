import { lazy, Suspense, useRef } from "react";
import { Button, Form } from "react-bootstrap";
import type { Schemas } from "../../api/client";
import { methodFiles } from "../../api/files";
import { problemOf, useWrite } from "../../api/mutations";
import { useMaterials, useMethods, usePapers, useTrays } from "../../api/queries";
import { useEditor, usePiece } from "../../document/useEditor";
import { Choice } from "./Choice";
import { MapChoices } from "./MapChoices";

// Fetched when it is opened: the plan is not to wait for it.
const PutBackLast = lazy(() =>
  import("../../ui/RemovedList").then((held) => ({ default: held.PutBackLast })),
);
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

type Method = Schemas["Method"];
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
  const methods = useMethods(setup.medium, setup.method, true);
  const own = usePapers();
  const papers = [...(materials.data?.papers ?? []), ...(own.data ?? [])].filter((row) =>
    row.media.includes(setup.medium),
  );
  const method = methods.find((row) => row.id === setup.method);
  const change = (id: string) => {
    const next = media.find((row) => row.id === id);
    if (next) set(inMedium(next));
  };
  const take = (next: Method) => {
    const fits = next.finishes.some((row) => row.id === setup.finish);
    const finish = fits ? setup.finish : (next.finishes[0]?.id ?? "layer");
    set({ method: next.id, reserve: next.reserve, finish });
  };
  const work = (id: string) => {
    const next = methods.find((row) => row.id === id);
    if (next) take(next);
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
      <MapChoices />
      <p className="setup-note">{method?.explanation}</p>
      <MethodFiles
        method={method}
        own={!materials.data?.methods.some((row) => row.id === setup.method)}
        onTaken={(taken) => taken.medium === setup.medium && take(taken)}
        onGone={() => medium && work(medium.usual_method)}
      />
    </div>
  );
}

type FilesProps = {
  method: Method | undefined;
  own: boolean;
  onTaken: (method: Method) => void;
  onGone: () => void;
};

/** A method as a file, taken along or taken in; one's own can be forgotten. */
function MethodFiles({ method, own, onTaken, onGone }: FilesProps) {
  const file = useRef<HTMLInputElement>(null);
  const taking = useWrite(methodFiles.takeIn, ["methods"], onTaken);
  const leaving = useWrite(methodFiles.remove, ["methods", "removed"], onGone);
  const problem = problemOf(taking.error ?? leaving.error, "");
  return (
    <p className="setup-note setup-method">
      {method && (
        <a href={methodFiles.url(method.id)} download>
          take this method along
        </a>
      )}
      <input
        ref={file}
        type="file"
        hidden
        accept=".toml"
        aria-label="TOML file"
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          event.target.value = "";
          if (chosen) taking.mutate(chosen);
        }}
      />
      <Button variant="quiet" size="sm" disabled={taking.isPending} onClick={() => file.current?.click()}>
        take one in from a file
      </Button>
      {method && own && (
        <Button variant="quiet" size="sm" onClick={() => leaving.mutate(method.id)}>
          remove this one
        </Button>
      )}
      <Suspense fallback={null}>
        <PutBackLast kind="method" />
      </Suspense>
      {taking.data && taking.data.id !== method?.id && (
        <span role="note">{taking.data.name} is there for another medium.</span>
      )}
      {problem && (
        <span className="problem" role="alert">
          {problem}
        </span>
      )}
    </p>
  );
}
