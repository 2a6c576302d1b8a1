import { useMaterials } from "../../api/queries";
import { useEditor, usePiece } from "../../document/useEditor";
import { AddSticks } from "../../ui/AddSticks";
import { inMedium } from "./SetupSheet";

/** What one draws with, put in without leaving the piece; the piece is drawn with it from then on. */
export function MySticks({ onClose }: { onClose: () => void }) {
  const { document } = usePiece();
  const { edit } = useEditor();
  const media = useMaterials().data?.media ?? [];
  return (
    <AddSticks
      show
      tray={null}
      medium={document.setup.medium}
      onClose={onClose}
      onPut={(tray, id) => {
        const medium = media.find((row) => row.id === id);
        const other = medium && medium.id !== document.setup.medium && !medium.finishing;
        edit((held) => ({
          ...held,
          tray: tray.id,
          setup: other ? { ...held.setup, ...inMedium(medium) } : held.setup,
        }));
        onClose();
      }}
    />
  );
}
