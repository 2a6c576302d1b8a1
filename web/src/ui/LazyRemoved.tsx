import { type ComponentProps, lazy, Suspense } from "react";

const List = lazy(() => import("./RemovedList").then((held) => ({ default: held.RemovedList })));

/** What was removed lately, fetched when the page is there: hardly ever is there anything to put back. */
export const RemovedList = (props: ComponentProps<typeof List>) => (
  <Suspense fallback={null}>
    <List {...props} />
  </Suspense>
);
