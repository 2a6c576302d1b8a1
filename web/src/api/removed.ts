import { useQuery } from "@tanstack/react-query";
import { http, type Schemas, take } from "./client";

export type Removed = Schemas["Removed"];

const of = (removed_id: string) => ({ params: { path: { removed_id } } });

/** What was removed of a kind and can be put back, the last first. */
export const useRemoved = (kind: Removed["kind"]) =>
  useQuery({
    queryKey: ["removed"],
    queryFn: () => take(() => http.GET("/api/removed")),
    select: (rows) => rows.filter((row) => row.kind === kind),
  }).data ?? [];

export const putBack = (id: string) => take(() => http.POST("/api/removed/{removed_id}", of(id)));

export const letGo = (id: string) => take(() => http.DELETE("/api/removed/{removed_id}", of(id)));
