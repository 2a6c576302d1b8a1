import { lazy } from "react";

/** Fetched once the page is there: what unfolds weighs more than the page waits for. */
export const TakeAlong = lazy(() => import("./TakeAlong").then((held) => ({ default: held.TakeAlong })));
