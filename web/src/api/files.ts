import { http, type Schemas, take } from "./client";

export type SheetKind = "pdf" | "svg" | "png";
export type Taken = Schemas["BundleTaken"];
export type SharedLink = Schemas["SharedLink"];

const at = (piece_id: string) => ({ params: { path: { piece_id } } });

/** Give a file to the browser to keep. */
export function save(file: Blob, name: string): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(file);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
}

async function asked(address: string) {
  const response = await fetch(address);
  if (!response.ok) return { error: await response.json().catch(() => undefined), response };
  const data: Schemas["Underway"] | Blob = await (response.status === 202
    ? response.json()
    : response.blob());
  return { data, response };
}

/** A file that may have to be worked out first, given to the browser to keep. Throws Refusal. */
export async function saveFrom(address: string, otherwise: string): Promise<void> {
  let name = otherwise;
  const file = await take(async () => {
    const answer = await asked(address);
    name = answer.response.headers.get("Content-Disposition")?.match(/filename="([^"]+)"/)?.[1] ?? name;
    return answer;
  });
  save(file as Blob, name);
}

/** steps: how many values borders are drawn between; mirrored: to be rubbed off from behind; parts: on A4 pages. */
export type Carried = { steps: number; mirrored: boolean; parts: boolean };

/** The borders of a piece as they are printed, as an SVG. */
export const transferSheet = (piece_id: string, { steps, mirrored, parts }: Carried) =>
  take(() =>
    http.GET("/api/pieces/{piece_id}/transfer/sheet", {
      params: {
        path: { piece_id },
        query: { kind: "svg", steps, mirrored: mirrored ? 1 : 0, parts: parts ? 1 : 0 },
      },
      parseAs: "text",
    }),
  );

/** The address of the borders of a piece as a sheet at its true size. */
export const transferUrl = (piece: string, kind: SheetKind, { steps, mirrored, parts }: Carried): string =>
  `/api/pieces/${piece}/transfer/sheet?${new URLSearchParams({
    kind,
    steps: String(steps),
    mirrored: mirrored ? "1" : "0",
    parts: parts ? "1" : "0",
  })}`;

/** The address of a comparison as a sheet. */
export const comparisonUrl = (comparison: string, kind: SheetKind): string =>
  `/api/comparisons/${comparison}/sheet?kind=${kind}`;

/** Maps on pages of their own: how many on each. */
export type PrintedMaps = 0 | 1 | 4;

/** The address of the plan of a piece as a sheet. pages: those that are wanted, all if none is named. */
export const planUrl = (
  piece: string,
  kind: SheetKind,
  maps: PrintedMaps = 0,
  pages: number[] = [],
): string => {
  const asked = new URLSearchParams({ kind });
  if (maps) asked.set("maps", String(maps));
  if (pages.length) asked.set("pages", pages.join(","));
  return `/api/pieces/${piece}/plan?${asked}`;
};

/** The address of a page of it, as small as it is looked at before it is printed. */
export const pageUrl = (piece: string, maps: PrintedMaps, page: number): string =>
  `${planUrl(piece, "png", maps, [page])}&dpi=60`;

/** How many pages it takes. */
export const sheetPages = (piece_id: string, maps: PrintedMaps) =>
  take(() =>
    http.GET("/api/pieces/{piece_id}/plan/pages", { params: { path: { piece_id }, query: { maps } } }),
  );

/** The address of the ramps of a piece as a sheet. */
export const rampsUrl = (piece: string, kind: SheetKind): string => `/api/pieces/${piece}/ramps?kind=${kind}`;

export const SHEET_KINDS: readonly SheetKind[] = ["pdf", "svg", "png"];

/** The address of what is seen of a plan: the picture after all layers, or all maps, or the map of one layer. */
export const shownUrl = (piece: string, what: "after" | "maps", kind: SheetKind, layer = ""): string =>
  `/api/pieces/${piece}/layers/pictures?${new URLSearchParams({ what, kind, layer })}`;

/** The address of a piece with all that it is made with. */
export const pieceFileUrl = (piece: string, history = false): string =>
  `/api/pieces/${piece}/file${history ? "?history=1" : ""}`;

/** The address of a tray with its trial cards. */
export const trayBundleUrl = (tray: string): string => `/api/trays/${tray}/bundle`;

export const practiceFileUrl = "/api/practice/file";
export const exportUrl = "/api/account/export";
export const referenceUrl = "/reference";

/** The address of a trial card to print. */
export const cardUrl = (card: string, kind: SheetKind): string => `/api/cards/${card}/sheet?kind=${kind}`;

/** A bundle taken in: only adds to what is there. */
export const takeIn = (file: File): Promise<Taken> =>
  take(() =>
    http.POST("/api/bundles", {
      body: { file: "" },
      bodySerializer: () => {
        const form = new FormData();
        form.append("file", file);
        return form;
      },
    }),
  );

/** What was taken in, in a sentence, and whatever was left out. */
export function takenWords(taken: Taken): string[] {
  const rows: [number, string, string][] = [
    [taken.pieces.length, "piece", "pieces"],
    [taken.trays.length, "box", "boxes"],
    [taken.papers, "paper", "papers"],
    [taken.methods, "method", "methods"],
    [taken.cards, "trial card", "trial cards"],
    [taken.complexions, "complexion", "complexions"],
    [taken.practised, "answer of practice", "answers of practice"],
  ];
  const said = rows
    .filter(([count]) => count > 0)
    .map(([count, one, many]) => `${count} ${count === 1 ? one : many}`);
  const first = said.length ? `Taken in: ${said.join(", ")}.` : "All of it was here already.";
  return [first, ...taken.said];
}

/** Methods that come out of files, and go out as such. */
export const methodFiles = {
  all: () => take(() => http.GET("/api/methods")),
  takeIn: async (file: File) => {
    const text = await file.text();
    return take(() => http.POST("/api/methods", { body: { file: text } }));
  },
  remove: (method_id: string) =>
    take(() => http.DELETE("/api/methods/{method_id}", { params: { path: { method_id } } })),
  url: (method: string) => `/api/methods/${method}/file`,
};

export const shares = {
  of: (id: string): Promise<SharedLink[]> => take(() => http.GET("/api/pieces/{piece_id}/shares", at(id))),
  make: (id: string, body: Schemas["AskShareRequest"]): Promise<SharedLink> =>
    take(() => http.POST("/api/pieces/{piece_id}/shares", { ...at(id), body })),
  takeBack: (link_id: string) =>
    take(() => http.DELETE("/api/shares/{link_id}", { params: { path: { link_id } } })),
};
