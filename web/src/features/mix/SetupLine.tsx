import { Suspense, useState } from "react";
import { Button } from "react-bootstrap";
import { useMaterials, useMethods, usePapers, useTrays } from "../../api/queries";
import { usePiece } from "../../document/useEditor";
import { useKeys } from "../../ui/keys";
import { Segments } from "../../ui/Segments";
import { MySticks } from "./LazyMySticks";
import { BLACK, SetupSheet } from "./SetupSheet";

type Props = {
  figure: string;
  onFigure: (figure: string) => void;
};

/** Whose skin is planned and how one works, in one line of words; it unfolds to be changed. */
export function SetupLine({ figure, onFigure }: Props) {
  const { document } = usePiece();
  const { setup, figures } = document;
  const materials = useMaterials().data;
  const methods = useMethods(setup.medium, setup.method);
  const trays = useTrays().data;
  const own = usePapers().data ?? [];
  const [open, setOpen] = useState(false);
  const [putting, setPutting] = useState(false);
  useKeys([{ key: "e", does: "Change how you work", run: () => setOpen(!open) }]);
  const paper = [...(materials?.papers ?? []), ...own].find((row) => row.id === setup.paper);
  const words = [
    trays?.find((row) => row.id === document.tray)?.name ?? "no tray yet",
    materials?.media.find((row) => row.id === setup.medium)?.name.toLowerCase(),
    paper && `on ${paper.name.toLowerCase()}`,
    methods.find((row) => row.id === setup.method)?.name.toLowerCase(),
    `black ${BLACK[setup.black] ?? setup.black}`,
    document.maps.areas === "named" && "named areas",
  ];
  return (
    <section className="setup-line" aria-label="How you work">
      {figures.length > 1 ? (
        <Segments
          label="Whose layers"
          choices={figures.map((row) => row.id)}
          chosen={figure}
          say={(id) => figures.find((row) => row.id === id)?.name ?? ""}
          onChoose={onFigure}
        />
      ) : (
        <b className="setup-name">{figures[0]?.name}</b>
      )}
      <span className="setup-words">{words.filter(Boolean).join(", ")}</span>
      <Button variant="quiet" size="sm" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? "done" : "change"}
      </Button>
      {open && <SetupSheet onClose={() => setOpen(false)} onPutIn={() => setPutting(true)} />}
      {putting && (
        <Suspense>
          <MySticks onClose={() => setPutting(false)} />
        </Suspense>
      )}
    </section>
  );
}
