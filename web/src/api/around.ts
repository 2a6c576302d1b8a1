import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { http, type Schemas, take } from "./client";

export type Around = Schemas["AroundShown"];
export type RegionShown = Schemas["RegionShown"];
export type RampOffer = Schemas["RampOffer"];
export type AroundWay = "as_it_is" | "where" | "white" | "inside";

/** What surrounds the skin. key: of all that it depends on. */
export const useAround = (piece_id: string, key: string) =>
  useQuery({
    queryKey: ["around", piece_id, key],
    queryFn: () => take(() => http.GET("/api/pieces/{piece_id}/around", { params: { path: { piece_id } } })),
    placeholderData: keepPreviousData,
    retry: false,
  });

/** The address of the picture with what surrounds the skin. key: as `useAround` says. */
export const aroundUrl = (piece: string, way: AroundWay, key: string): string =>
  `/api/pieces/${piece}/around/picture?way=${way}&size=960&key=${key}`;
