import { lazy } from "react";

/** Fetched when it is opened: Mix is not to wait for it. */
export const MySticks = lazy(() => import("./MySticks").then((held) => ({ default: held.MySticks })));
