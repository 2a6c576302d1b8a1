import { type ComponentProps, lazy, Suspense, useState } from "react";
import { Button } from "react-bootstrap";

const Whole = lazy(() => import("./TakeAlong").then((held) => ({ default: held.TakeAlong })));

/** What leaves a plan, fetched when it is asked for: what unfolds weighs more than the page waits for. */
export function TakeAlong(props: ComponentProps<typeof Whole>) {
  const [asked, setAsked] = useState(false);
  const closed = (
    <Button variant="quiet" size="sm" aria-expanded={false} onClick={() => setAsked(true)}>
      take along
    </Button>
  );
  return asked ? (
    <Suspense fallback={closed}>
      <Whole {...props} />
    </Suspense>
  ) : (
    closed
  );
}
