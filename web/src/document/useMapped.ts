import { useEffect } from "react";
import { useMaps } from "../api/queries";
import { useEditor, usePiece } from "./useEditor";

/** The maps of the piece's layers, as of this key. Recipes are read off them: what that changes is shown at once. */
export function useMapped(key: string) {
  const { id, picture, document } = usePiece();
  const { refresh } = useEditor();
  const maps = useMaps(id, key, picture !== null && document.layers.length > 0);
  const { data, isPlaceholderData } = maps;
  useEffect(() => {
    if (data?.noted && !isPlaceholderData) void refresh();
  }, [data, isPlaceholderData, refresh]);
  return maps;
}
