import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { type Order, type Schemas, type Stick, server } from "./client";
import { type Carried, methodFiles, transferSheet } from "./files";

const NOTHING: Stick[] = [];

/** For an answer whose key says when it could be another one: until then it is not asked for again. */
const KEYED = {
  staleTime: Number.POSITIVE_INFINITY,
  placeholderData: <T>(held: T | undefined) => held,
};

export const useSession = () => useQuery({ queryKey: ["session"], queryFn: server.session });
export const materialsQuery = {
  queryKey: ["materials"],
  queryFn: server.materials,
  staleTime: Number.POSITIVE_INFINITY,
};
export const useMaterials = () => useQuery(materialsQuery);
/** How much of everything a piece may hold; nothing until it is known. */
export const useLimits = (): Partial<Schemas["Limits"]> => useMaterials().data?.limits ?? {};
export const traysQuery = { queryKey: ["trays"], queryFn: server.trays };
export const useTrays = () => useQuery(traysQuery);
export const trayQuery = (id: string) => ({ queryKey: ["tray", id], queryFn: () => server.tray(id) });
/** Where the sticks of a tray are planned to be used; looked up anew each time the tray is opened. */
export const useUses = (tray: string) =>
  useQuery({ queryKey: ["uses", tray], queryFn: () => server.uses(tray), refetchOnMount: "always" });
export const useRange = (id: string) =>
  useQuery({
    queryKey: ["range", id],
    queryFn: () => server.range(id),
    enabled: id !== "",
    staleTime: Number.POSITIVE_INFINITY,
  });
/** Everything in a tray, and whether it is still on its way; nothing as long as none is chosen. */
export function useSticks(id: string | null): { sticks: Stick[]; waiting: boolean } {
  const tray = useQuery({ ...trayQuery(id ?? ""), enabled: id !== null });
  return { sticks: tray.data?.sticks ?? NOTHING, waiting: id !== null && tray.isPending };
}
export const useTrials = (id: string, wanted: boolean) =>
  useQuery({
    queryKey: ["trials", id],
    queryFn: () => server.trials(id),
    enabled: wanted,
    retry: false,
    refetchOnMount: "always",
  });
/** The methods of a medium: those that Caltin knows, and the artist's own where they are looked at or in use. */
export function useMethods(medium: string, chosen: string, all = false) {
  const known = useMaterials().data?.methods;
  const own = useQuery({
    queryKey: ["methods"],
    queryFn: methodFiles.all,
    enabled: all || (known !== undefined && !known.some((row) => row.id === chosen)),
  }).data;
  return [...(known ?? []), ...(own ?? [])].filter((row) => row.medium === medium);
}
export const usePapers = () => useQuery({ queryKey: ["papers"], queryFn: server.papers });
export const usePieces = () => useQuery({ queryKey: ["pieces"], queryFn: server.pieces });
export const useSheet = (id: string, key: string, order: string, wanted: boolean) =>
  useQuery({
    queryKey: ["sheet", id, key, order],
    queryFn: () => server.sheet(id, order as Order),
    enabled: wanted,
    ...KEYED,
  });
/** What is to be expected of the layers as they are. */
export const useLayers = (id: string, key: string, wanted: boolean) =>
  useQuery({ queryKey: ["layers", id, key], queryFn: () => server.layers(id), enabled: wanted, ...KEYED });
/** Plans of a figure in every number of layers. key: of all that they depend on. */
export const usePlans = (id: string, key: string, figure: string, wanted: boolean) =>
  useQuery({
    queryKey: ["plans", id, key, figure],
    queryFn: () => server.plans(id, { figure }),
    enabled: wanted,
    ...KEYED,
    retry: false,
  });
/** What would come of a figure's plan if something else were chosen. */
export const useTried = (id: string, key: string, asked: Schemas["TryPlansRequest"]) =>
  useQuery({
    queryKey: ["tried", id, key, asked],
    queryFn: () => server.plans(id, asked),
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
/** Other sticks for a layer, the best for the whole face first. */
export const useOtherSticks = (id: string, key: string, figure: string, layer: string) =>
  useQuery({
    queryKey: ["other sticks", id, key, figure, layer],
    queryFn: () => server.otherSticks(id, figure, layer),
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
  });
/** Where every layer lies over the skin of the picture. */
export const useMaps = (id: string, key: string, wanted: boolean) =>
  useQuery({
    queryKey: ["maps", id, key],
    queryFn: () => server.maps(id),
    enabled: wanted,
    ...KEYED,
    retry: false,
  });
export const useStudy = (id: string, key: string, wanted: boolean) =>
  useQuery({
    queryKey: ["study", id, key],
    queryFn: () => server.study(id),
    enabled: wanted,
    ...KEYED,
  });
/** The borders as they are printed, as SVG. */
export const useTransfer = (id: string, key: string, { steps, mirrored, parts }: Carried) =>
  useQuery({
    queryKey: ["transfer", id, key, steps, mirrored, parts],
    queryFn: () => transferSheet(id, { steps, mirrored, parts }),
    ...KEYED,
  });
export const useFigures = (id: string, key: string) =>
  useQuery({
    queryKey: ["figures", id, key],
    queryFn: () => server.figures(id),
    ...KEYED,
    retry: false,
  });
const paletteQuery = (id: string, key: string, asked: Schemas["PaletteSizeRequest"]) => ({
  queryKey: ["palette", id, key, asked],
  queryFn: () => server.palette(id, asked),
  staleTime: Number.POSITIVE_INFINITY,
  retry: false,
});
export const usePalette = (id: string, key: string, asked: Schemas["PaletteSizeRequest"]) =>
  useQuery({ ...paletteQuery(id, key, asked), placeholderData: (held) => held });
/** Asks for palettes that are likely to be looked at next. */
export const useAhead = (id: string, key: string, sizes: number[], ready: boolean) => {
  const client = useQueryClient();
  const wanted = sizes.join();
  useEffect(() => {
    if (!ready) return;
    for (const size of wanted.split(",").map(Number))
      void client.prefetchQuery({
        ...paletteQuery(id, key, { size }),
      });
  }, [client, id, key, wanted, ready]);
};
