import { server } from "../../api/client";
import { problemOf, useWrite } from "../../api/mutations";
import { useEditor, usePiece } from "../../document/useEditor";

/** The other layers of a figure chosen anew around those that are kept. */
export function useFit(figure: string): { ask: () => void; pending: boolean; problem: string } {
  const piece = usePiece();
  const { take } = useEditor();
  const asked = useWrite(
    () => server.fitted(piece.id, figure),
    [],
    (plan) =>
      take(
        figure,
        plan.layers.map((row) => row.layer),
      ),
  );
  return { ask: () => asked.mutate(undefined), pending: asked.isPending, problem: problemOf(asked.error) };
}
