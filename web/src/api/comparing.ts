import { useQuery } from "@tanstack/react-query";
import { http, type Schemas, take } from "./client";

const of = (comparison_id: string) => ({ params: { path: { comparison_id } } });

/** What is asked about photographs of the drawing. */
export const comparing = {
  all: (piece_id: string) =>
    take(() => http.GET("/api/pieces/{piece_id}/comparisons", { params: { path: { piece_id } } })),
  add: (piece_id: string, body: Schemas["AskComparisonRequest"]) =>
    take(() => http.POST("/api/pieces/{piece_id}/comparisons", { params: { path: { piece_id } }, body })),
  one: (id: string) => take(() => http.GET("/api/comparisons/{comparison_id}", of(id))),
  change: (id: string, body: Schemas["ChangeComparisonRequest"]) =>
    take(() => http.PATCH("/api/comparisons/{comparison_id}", { ...of(id), body })),
  delete: (id: string) => take(() => http.DELETE("/api/comparisons/{comparison_id}", of(id))),
  advice: (id: string) => take(() => http.GET("/api/comparisons/{comparison_id}/advice", of(id))),
  teach: (id: string, learn: boolean) =>
    take(() => http.POST("/api/comparisons/{comparison_id}/taught", { ...of(id), body: { learn } })),
};

/** All photographs of the drawing; looked up anew each time the step is entered. */
export const useComparisons = (piece: string) =>
  useQuery({
    queryKey: ["comparisons", piece],
    queryFn: () => comparing.all(piece),
    refetchOnMount: "always",
  });

export const useCompared = (id: string | undefined) =>
  useQuery({
    queryKey: ["compared", id],
    queryFn: () => comparing.one(id ?? ""),
    enabled: id !== undefined,
    refetchOnMount: "always",
  });

/** What to do about the drawing. key: of all that it depends on besides the photograph. */
export const useAdvice = (id: string | undefined, key: string) =>
  useQuery({
    queryKey: ["advice", id, key],
    queryFn: () => comparing.advice(id ?? ""),
    enabled: id !== undefined,
    retry: false,
  });

export type Side = "drawing" | "reference";
export type Way = "as_it_is" | "values" | "squint" | "surround";

/** The address of a drawing as its picture lies, or of that. key: of where it lies. */
export const comparedUrl = (id: string, side: Side, way: Way, large: boolean, key: string): string =>
  `/api/comparisons/${id}/picture?side=${side}&way=${way}&size=${large ? 960 : 480}&key=${key}`;

/** The address of a correction's map, or of what it is about now and then. */
export const correctionUrl = (id: string, number: number, kind: "map" | "then", large = false): string =>
  `/api/comparisons/${id}/corrections/${number}?kind=${kind}${large ? "&size=960" : ""}`;
