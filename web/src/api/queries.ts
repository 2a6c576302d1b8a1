import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { type Schemas, server } from "./client";

export const useSession = () => useQuery({ queryKey: ["session"], queryFn: server.session });
export const useMaterials = () =>
  useQuery({ queryKey: ["materials"], queryFn: server.materials, staleTime: Number.POSITIVE_INFINITY });
/** How much of everything a piece may hold; nothing until it is known. */
export const useLimits = (): Partial<Schemas["Limits"]> => useMaterials().data?.limits ?? {};
export const useTrays = () => useQuery({ queryKey: ["trays"], queryFn: server.trays });
export const usePapers = () => useQuery({ queryKey: ["papers"], queryFn: server.papers });
export const usePieces = () => useQuery({ queryKey: ["pieces"], queryFn: server.pieces });
export const useSheet = (id: string, version: number) =>
  useQuery({
    queryKey: ["sheet", id, version],
    queryFn: () => server.sheet(id),
    placeholderData: (held) => held,
  });
export const useStudy = (id: string, version: number, wanted: boolean) =>
  useQuery({
    queryKey: ["study", id, version],
    queryFn: () => server.study(id),
    enabled: wanted,
    placeholderData: (held) => held,
  });
export const useTransfer = (id: string, steps: number) =>
  useQuery({ queryKey: ["transfer", id, steps], queryFn: () => server.transfer(id, steps), gcTime: 0 });
export const useFigures = (id: string, version: number) =>
  useQuery({
    queryKey: ["figures", id, version],
    queryFn: () => server.figures(id),
    placeholderData: (held) => held,
    retry: false,
  });
const paletteQuery = (id: string, version: number, asked: Schemas["PaletteInRequest"]) => ({
  queryKey: ["palette", id, version, asked],
  queryFn: () => server.palette(id, asked),
  retry: false,
});
export const usePalette = (id: string, version: number, asked: Schemas["PaletteInRequest"]) =>
  useQuery({ ...paletteQuery(id, version, asked), placeholderData: (held) => held });
/** Asks for palettes that are likely to be looked at next. */
export const useAhead = (id: string, version: number, sizes: number[], ready: boolean) => {
  const client = useQueryClient();
  const wanted = sizes.join();
  useEffect(() => {
    if (!ready) return;
    for (const size of wanted.split(",").map(Number))
      void client.prefetchQuery({
        ...paletteQuery(id, version, { size }),
        staleTime: Number.POSITIVE_INFINITY,
      });
  }, [client, id, version, wanted, ready]);
};
export const useNeighbours = (id: string, version: number, spot: string) =>
  useQuery({
    queryKey: ["context", id, version, spot],
    queryFn: () => server.context(id, spot),
    placeholderData: (held) => held,
    retry: false,
  });
