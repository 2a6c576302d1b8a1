import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { http, type Schemas, take } from "./client";

export type NotebookEntry = Schemas["NotebookEntry"];
export type Kind = NotebookEntry["kind"];

/** What the notebook holds, found by words, by kinds and by a colour (hex, empty for none). */
export const useNotebook = (text: string, kind: Kind[], colour: string) =>
  useQuery({
    queryKey: ["notebook", text, kind, colour],
    queryFn: () =>
      take(() => http.GET("/api/notebook", { params: { query: { text, kind, colour: colour.slice(1) } } })),
    placeholderData: keepPreviousData,
    refetchOnMount: "always",
  });

/** Sets a piece up as an earlier one was for a figure. */
export const againFor = (body: Schemas["UseAgainRequest"]) =>
  take(() => http.POST("/api/notebook/use", { body }));
