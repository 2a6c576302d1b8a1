import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Piece = Schemas["Piece"];
export type PieceChange = Schemas["PieceChange"];
export type PieceDocument = Schemas["Document"];
export type Spot = Schemas["Spot"];
export type Figure = Schemas["Figure"];
export type Recipe = Schemas["PlannedRecipe"];
/** A spot with what was worked out about it. */
export type SeenSpot = Spot & Schemas["SpotFound"];
export type Work = Schemas["Work"];
export type WorkChanges = Schemas["WorkChangesRequest"]["passes"];
export type Keys = Schemas["Keys"];
export type Step = Schemas["PassOutcome"];
export type SwatchData = Schemas["Swatch"];
export type Stick = Schemas["Stick"];
export type Tray = Schemas["Tray"];
export type Materials = Schemas["Materials"];
export type Paper = Schemas["Paper"];
export type Sheet = Schemas["Sheet"];
export type Way = Schemas["Way"];
export type Order = Schemas["Sheet"]["orders"][number];
export type Job = Schemas["Job"];
export type Study = Schemas["Study"];
export type FigureStudy = Schemas["FigureStudy"];
export type Offer = Schemas["Offer"];
export type Face = Schemas["Face"];
export type Suggestion = Schemas["Suggestion"];
export type SuggestedSpot = Schemas["SuggestedSpot"];
export type Mark = Schemas["Mark"];
export type Measured = Schemas["Measured"];
export type Stroke = Schemas["Stroke"];
export type FigurePlan = Schemas["FigurePlan"];
export type Palette = Schemas["Palette"];
export type TrialCard = Schemas["TrialCard"];
export type CardPhoto = Schemas["PhotoSeen"];
export type Trials = Schemas["Trials"];
export type Compared = Schemas["Compared"];
export type Advice = Schemas["SaidAdvice"];
export type Lamp = Required<Schemas["Lamp"]>;
export type KeyLight = Schemas["Key"] & { lamp: Lamp };
export type Around = Schemas["Around"] & { lamp: Lamp };
export type Skin = Required<Schemas["Description"]>;
export type Sitter = Schemas["Sitter"] & { skin: Skin };
export type SceneTold = Schemas["SceneTold"];
export type Complexion = Schemas["ComplexionShown"];
export type SignedIn = Schemas["SignedIn"];
export type Role = Spot["role"];
export type Place = Spot["place"];

export type Problem = { code: string; message: string; hint: string; field: string };

/** What the server said when it refused, or that it could not be reached (status 0). */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    readonly problems: Problem[],
    readonly current: Piece | null = null,
  ) {
    super(problems.map((problem) => [problem.message, problem.hint].filter(Boolean).join(" ")).join(" "));
  }
}

/** Whether the server or the way to it failed, rather than that it refused for a reason. */
export const hasFailed = (error: unknown): boolean =>
  error !== null &&
  error !== undefined &&
  !(error instanceof Refusal && error.status >= 400 && error.status < 500);

const UNREACHABLE: Problem = {
  code: "unreachable",
  message: "The server does not answer.",
  hint: "Your work is kept here and will be saved as soon as it does.",
  field: "",
};

function cookie(name: string): string {
  const found = document.cookie.split("; ").find((part) => part.startsWith(`${name}=`));
  return found ? decodeURIComponent(found.slice(name.length + 1)) : "";
}

export const http = createClient<paths>({ baseUrl: "/" });
http.use({
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", cookie("csrftoken"));
    return request;
  },
});

type Answered<T> = { data?: T; error?: unknown; response: Response };

type Underway = Schemas["Underway"];

const isUnderway = (data: unknown): data is Underway =>
  typeof data === "object" && data !== null && "underway" in data;

/** The server waits a moment itself before it says that something is not finished. */
const AGAIN_AFTER_MS = 150;

/** How far something is that takes a while, and what gives it up. */
export type LongWork = { done: number; total: number; stop: () => void };
type Watch = (work: LongWork) => void;

const STOPPED: Problem = {
  code: "stopped",
  message: "Stopped.",
  hint: "Everything is as it was.",
  field: "",
};

/** Settles when a job is done, or must be asked for again. Throws Refusal when it was given up. */
async function finished({ job, done, total }: Underway["underway"], watch?: Watch): Promise<void> {
  const path = { params: { path: { job_key: job } } };
  let stopped = false;
  const stop = () => {
    stopped = true;
    // Should this not arrive: what nobody asks after is given up as well.
    http.DELETE("/api/jobs/{job_key}", path).catch(() => {});
  };
  for (let now = { done, total }; ; ) {
    watch?.({ ...now, stop });
    await new Promise((go) => setTimeout(go, AGAIN_AFTER_MS));
    if (!stopped) now = await take(() => http.GET("/api/jobs/{job_key}", path));
    if (stopped) throw new Refusal(410, [STOPPED]);
    if (now.done >= now.total) return;
  }
}

/** The data of an answer; what takes a while is asked for until it is there. Throws Refusal for everything else. */
export async function take<T>(ask: () => Promise<Answered<T>>, watch?: Watch): Promise<Exclude<T, Underway>> {
  for (;;) {
    let answer: Answered<T>;
    try {
      answer = await ask();
    } catch {
      throw new Refusal(0, [UNREACHABLE]);
    }
    if (answer.response.ok) {
      // What is asked for as text is text as well while it is under way.
      const { data } = answer;
      const said = answer.response.status === 202 && typeof data === "string" ? JSON.parse(data) : data;
      if (!isUnderway(said)) return said as Exclude<T, Underway>;
      await finished(said.underway, watch);
      continue;
    }
    const body = answer.error as { errors?: Problem[]; current?: Piece } | undefined;
    const fallback = {
      ...UNREACHABLE,
      message: "The server could not do that.",
      hint: "Try again in a moment.",
    };
    throw new Refusal(answer.response.status, body?.errors ?? [fallback], body?.current ?? null);
  }
}

const of = (tray_id: string) => ({ params: { path: { tray_id } } });
const at = (piece_id: string) => ({ params: { path: { piece_id } } });

const UNREAD: Schemas["SpotFound"] = { reading: null, temperature: null, beyond: "", outcome: null };

/** The spots of a piece, each with what was worked out about it. */
export const seenSpots = ({ document, found }: Pick<Piece, "document" | "found">): SeenSpot[] =>
  document.spots.map((spot) => ({ ...spot, ...(found.spots[spot.id] ?? UNREAD) }));

/** A file as forms send it. */
function formWith(file: File): FormData {
  const form = new FormData();
  form.append("file", file);
  return form;
}

export const server = {
  session: () => take(() => http.GET("/api/session")),
  signIn: (name: string, password: string) =>
    take(() => http.POST("/api/session", { body: { name, password } })),
  enter: (token: string) => take(() => http.POST("/api/session/link", { body: { token } })),
  sessions: () => take(() => http.GET("/api/sessions")),
  endSession: (session_id: string) =>
    take(() => http.DELETE("/api/sessions/{session_id}", { params: { path: { session_id } } })),
  space: () => take(() => http.GET("/api/account/space")),
  deleteAccount: (name: string) => take(() => http.POST("/api/account/farewell", { body: { name } })),
  signOut: () => take(() => http.DELETE("/api/session")),
  setPassword: (password: string) => take(() => http.PUT("/api/session/password", { body: { password } })),
  materials: () => take(() => http.GET("/api/materials")),
  trays: () => take(() => http.GET("/api/trays")),
  tray: (tray_id: string) => take(() => http.GET("/api/trays/{tray_id}", { params: { path: { tray_id } } })),
  addTray: (body: Schemas["NewTrayRequest"]) => take(() => http.POST("/api/trays", { body })),
  tidyTray: (tray_id: string, body: Schemas["TrayChangeRequest"]) =>
    take(() => http.PATCH("/api/trays/{tray_id}", { ...of(tray_id), body })),
  putSticks: (tray_id: string, sticks: Schemas["NewStickRequest"][], again = false) =>
    take(() => http.POST("/api/trays/{tray_id}/sticks", { ...of(tray_id), body: { sticks, again } })),
  /** Sent to its end even if the page is left at once: a choice has no draft that would send it later. */
  changeSticks: (tray_id: string, codes: string[], change: Schemas["StickChangeRequest"]) =>
    take(() =>
      http.PATCH("/api/trays/{tray_id}/sticks", {
        ...of(tray_id),
        body: { codes, change },
        keepalive: true,
      }),
    ),
  takeSticksAway: (tray_id: string, codes: string[]) =>
    take(() => http.POST("/api/trays/{tray_id}/away", { ...of(tray_id), body: { codes } })),
  orderSticks: (tray_id: string, codes: string[]) =>
    take(() => http.PUT("/api/trays/{tray_id}/order", { ...of(tray_id), body: { codes } })),
  moveSticks: (tray_id: string, body: Schemas["MoveSticksRequest"]) =>
    take(() => http.POST("/api/trays/{tray_id}/move", { ...of(tray_id), body })),
  undoTray: (tray_id: string) => take(() => http.POST("/api/trays/{tray_id}/undo", of(tray_id))),
  redoTray: (tray_id: string) => take(() => http.POST("/api/trays/{tray_id}/redo", of(tray_id))),
  standIns: (tray_id: string, code: string) =>
    take(() =>
      http.GET("/api/trays/{tray_id}/stand-ins", {
        params: { path: { tray_id }, query: { code } },
      }),
    ),
  mixed: (tray_id: string, code: string) =>
    take(() => http.GET("/api/trays/{tray_id}/mixed", { params: { path: { tray_id }, query: { code } } })),
  shifts: (hex: string) => take(() => http.GET("/api/shifts", { params: { query: { hex: hex.slice(1) } } })),
  lesson: (tray_id: string, body: Schemas["AskListRequest"]) =>
    take(() => http.POST("/api/trays/{tray_id}/lesson", { ...of(tray_id), body })),
  uses: (tray_id: string) => take(() => http.GET("/api/trays/{tray_id}/uses", of(tray_id))),
  toBuy: (tray_id: string, body: Schemas["AskBuyRequest"]) =>
    take(() => http.POST("/api/trays/{tray_id}/to-buy", { ...of(tray_id), body })),
  cheapest: (tray_id: string, sticks: Schemas["OfShopRequest"][]) =>
    take(() => http.POST("/api/trays/{tray_id}/cheapest", { ...of(tray_id), body: { sticks } })),
  runsOut: (tray_id: string) => take(() => http.GET("/api/trays/{tray_id}/runs-out", of(tray_id))),
  listIn: (file: File) =>
    take(() =>
      http.POST("/api/stick-list/file", { body: { file: "" }, bodySerializer: () => formWith(file) }),
    ),
  readList: (body: Schemas["AskListRequest"]) => take(() => http.POST("/api/stick-list", { body })),
  range: (range_id: string) =>
    take(() => http.GET("/api/ranges/{range_id}", { params: { path: { range_id } } })),
  deleteTray: (tray_id: string) =>
    take(() => http.DELETE("/api/trays/{tray_id}", { params: { path: { tray_id } } })),
  papers: () => take(() => http.GET("/api/papers")),
  addPaper: (body: Schemas["NewPaperRequest"]) => take(() => http.POST("/api/papers", { body })),
  deletePaper: (paper_id: string) =>
    take(() => http.DELETE("/api/papers/{paper_id}", { params: { path: { paper_id } } })),
  patch: (picture_id: string, body: Schemas["PatchRequest"]) =>
    take(() => http.POST("/api/pictures/{picture_id}/patch", { params: { path: { picture_id } }, body })),
  sheetIn: (picture_id: string, body: Schemas["AskSheetRequest"]) =>
    take(() => http.POST("/api/pictures/{picture_id}/sheet", { params: { path: { picture_id } }, body })),
  pieces: () => take(() => http.GET("/api/pieces")),
  addPiece: (title: string, key: string) => take(() => http.POST("/api/pieces", { body: { title, key } })),
  piece: (id: string) => take(() => http.GET("/api/pieces/{piece_id}", at(id))),
  deletePiece: (id: string) => take(() => http.DELETE("/api/pieces/{piece_id}", at(id))),
  /** What the editor of a piece asks for. */
  editing: {
    piece: (id: string) => take(() => http.GET("/api/pieces/{piece_id}", at(id))),
    change: (id: string, body: Schemas["ChangePieceRequest"]) =>
      take(() => http.PATCH("/api/pieces/{piece_id}", { ...at(id), body })),
    /** A whole document, of whatever version. */
    put: (id: string, version: number, { title, document }: { title: string; document: unknown }) =>
      take(() =>
        http.PUT("/api/pieces/{piece_id}", {
          ...at(id),
          body: { version, title, document: document as PieceDocument },
        }),
      ),
    undo: (id: string, body: Schemas["PieceVersionRequest"]) =>
      take(() => http.POST("/api/pieces/{piece_id}/undo", { ...at(id), body })),
    redo: (id: string, body: Schemas["PieceVersionRequest"]) =>
      take(() => http.POST("/api/pieces/{piece_id}/redo", { ...at(id), body })),
    plan: (id: string, body: Schemas["PlanLayersRequest"], watch: Watch) =>
      take(() => http.POST("/api/pieces/{piece_id}/layers", { ...at(id), body }), watch),
    take: (id: string, body: Schemas["TakeLayersRequest"]) =>
      take(() => http.POST("/api/pieces/{piece_id}/layers/take", { ...at(id), body })),
    work: (id: string, passes: WorkChanges) =>
      take(() => http.POST("/api/pieces/{piece_id}/work", { ...at(id), body: { passes } })),
  },
  answers: (id: string, spot: string) =>
    take(() => http.POST("/api/pieces/{piece_id}/answers", { ...at(id), body: { spot } })),
  figures: (id: string) => take(() => http.GET("/api/pieces/{piece_id}/figures", at(id))),
  palette: (id: string, body: Schemas["PaletteSizeRequest"]) =>
    take(() => http.POST("/api/pieces/{piece_id}/palette", { ...at(id), body })),
  missing: (id: string, code: string) =>
    take(() => http.POST("/api/pieces/{piece_id}/missing", { ...at(id), body: { code } })),
  layers: (id: string) => take(() => http.GET("/api/pieces/{piece_id}/layers", at(id))),
  plans: (id: string, body: Schemas["TryPlansRequest"]) =>
    take(() => http.POST("/api/pieces/{piece_id}/layers/plans", { ...at(id), body })),
  otherSticks: (id: string, figure: string, layer: string) =>
    take(() => http.POST("/api/pieces/{piece_id}/layers/sticks", { ...at(id), body: { figure, layer } })),
  fitted: (id: string, figure: string) =>
    take(() => http.POST("/api/pieces/{piece_id}/layers/fitted", { ...at(id), body: { figure } })),
  accent: (id: string, spot: string) =>
    take(() => http.POST("/api/pieces/{piece_id}/layers/accent", { ...at(id), body: { spot } })),
  maps: (id: string) => take(() => http.POST("/api/pieces/{piece_id}/layers/maps", { ...at(id), body: {} })),
  sheet: (piece_id: string, order: Order) =>
    take(() =>
      http.GET("/api/pieces/{piece_id}/sheet", { params: { path: { piece_id }, query: { order } } }),
    ),
  study: (id: string) => take(() => http.GET("/api/pieces/{piece_id}/study", at(id))),
  suggest: (id: string) => take(() => http.POST("/api/pieces/{piece_id}/suggest", at(id))),
  measure: (id: string, mark: Mark) =>
    take(() => http.POST("/api/pieces/{piece_id}/measure", { ...at(id), body: { mark } })),
  trials: (id: string) => take(() => http.GET("/api/pieces/{piece_id}/cards", at(id))),
  makeCard: (id: string, body: Schemas["AskCardRequest"]) =>
    take(() => http.POST("/api/pieces/{piece_id}/cards", { ...at(id), body })),
  deleteCard: (card_id: string) =>
    take(() => http.DELETE("/api/cards/{card_id}", { params: { path: { card_id } } })),
  readCard: (card_id: string, body: Schemas["AskPhotoRequest"], watch?: Watch) =>
    take(() => http.POST("/api/cards/{card_id}/photos", { params: { path: { card_id } }, body }), watch),
  correctBoxes: (photo_id: string, body: Schemas["CorrectBoxesRequest"]) =>
    take(() => http.PATCH("/api/card-photos/{photo_id}", { params: { path: { photo_id } }, body })),
  takeBackBoxes: (piece_id: string, body: Schemas["TakeBackRequest"]) =>
    take(() =>
      http.POST("/api/pieces/{piece_id}/cards/taken-back", { params: { path: { piece_id } }, body }),
    ),
  takeBack: (photo_id: string) =>
    take(() => http.DELETE("/api/card-photos/{photo_id}", { params: { path: { photo_id } } })),
  light: () => take(() => http.GET("/api/light")),
  told: (body: Schemas["AskToldRequest"]) => take(() => http.POST("/api/light/told", { body })),
  lit: (body: Schemas["AskPictureRequest"]) =>
    take(() => http.POST("/api/light/picture", { body, parseAs: "blob" })),
  shadingMap: (body: Schemas["AskMapRequest"]) =>
    take(() => http.POST("/api/light/map", { body, parseAs: "blob" })),
  complexions: () => take(() => http.GET("/api/complexions")),
  keepComplexion: (body: Schemas["WriteComplexionRequest"]) =>
    take(() => http.POST("/api/complexions", { body })),
  changeComplexion: (complexion_id: string, body: Schemas["WriteComplexionRequest"]) =>
    take(() => http.PUT("/api/complexions/{complexion_id}", { params: { path: { complexion_id } }, body })),
  deleteComplexion: (complexion_id: string) =>
    take(() => http.DELETE("/api/complexions/{complexion_id}", { params: { path: { complexion_id } } })),
  takeInComplexions: (file: string) => take(() => http.POST("/api/complexions/file", { body: { file } })),
  atHand: (body: Schemas["JobColoursRequest"]) => take(() => http.POST("/api/at-hand", { body })),
  imagine: (id: string, body: Schemas["ImagineRequest"]) =>
    take(() => http.POST("/api/pieces/{piece_id}/imagine", { ...at(id), body })),
  addPicture: (file: File) =>
    take(() =>
      http.POST("/api/pictures", {
        body: { file: "" },
        bodySerializer: () => formWith(file),
      }),
    ),
};

/** The address of all complexions as a file. */
export const complexionsFileUrl = "/api/complexions/file";

/** The address of a tray as a file. */
export const trayFileUrl = (
  tray: string,
  kind: "csv" | "json" | "xlsx" | "ods" | "gpl" | "txt" | "cxf",
): string => `/api/trays/${tray}/file?kind=${kind}`;

/** The address of a sheet to lay swatches on. */
export const swatchSheetUrl = (paper: string, tray?: string): string =>
  `/api/${tray ? `trays/${tray}/` : ""}swatch-sheet?paper=${paper}`;
