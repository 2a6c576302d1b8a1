import { useEditor } from "../../document/useEditor";
import { useKeys } from "../../ui/keys";
import type { LayerEdit } from "./PickedLayer";

export const PARTS = ["layers", "place", "ramp", "palette"] as const;
export type Part = (typeof PARTS)[number];

type Props = {
  onPart: (part: Part) => void;
  onValues: () => void;
  onEdit: (edit: LayerEdit) => void;
  onMove: (by: number) => void;
  onBrush: () => void;
  onAsk: () => void;
};

/** The keys of this step. */
export function MixKeys({ onPart, onValues, onEdit, onMove, onBrush, onAsk }: Props) {
  const { plan } = useEditor();
  useKeys([
    { key: "p", does: "Plan all figures in layers", run: () => plan([], 0) },
    ...PARTS.map((name, i) => ({ key: String(i + 1), does: `Show the ${name}`, run: () => onPart(name) })),
    { key: "v", does: "Drawing in colour or in greys", run: onValues },
    { key: "h", does: "Lay this layer harder", run: () => onEdit("harder") },
    { key: "s", does: "Lay it softer", run: () => onEdit("softer") },
    { key: "o", does: "Go over it once more", run: () => onEdit("more") },
    { key: "i", does: "Go over it once less", run: () => onEdit("less") },
    { key: "k", does: "Keep this layer as it is, or let it change", run: () => onEdit("lock") },
    { key: "d", does: "Split it into light and shade", run: () => onEdit("split") },
    { key: "Delete", does: "Remove this layer", run: () => onEdit("remove") },
    { key: "u", does: "Lay it later", run: () => onMove(1) },
    { key: "j", does: "Lay it earlier", run: () => onMove(-1) },
    { key: "y", does: "What if … : the plan beside another", run: onAsk },
    { key: "b", does: "Brush where it goes", run: onBrush },
  ]);
  return null;
}
