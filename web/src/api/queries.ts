import { useQuery } from "@tanstack/react-query";
import { server } from "./client";

export const useSession = () => useQuery({ queryKey: ["session"], queryFn: server.session });
export const useMaterials = () =>
  useQuery({ queryKey: ["materials"], queryFn: server.materials, staleTime: Number.POSITIVE_INFINITY });
export const useTrays = () => useQuery({ queryKey: ["trays"], queryFn: server.trays });
export const usePieces = () => useQuery({ queryKey: ["pieces"], queryFn: server.pieces });
export const useSheet = (id: string, version: number) =>
  useQuery({
    queryKey: ["sheet", id, version],
    queryFn: () => server.sheet(id),
    placeholderData: (held) => held,
  });
