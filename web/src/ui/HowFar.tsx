import { Button, ProgressBar } from "react-bootstrap";
import type { LongWork } from "../api/client";

/** How far something is that takes a while, and the way to give it up. */
export function HowFar({ work, label }: { work: LongWork; label: string }) {
  return (
    <div className="how-far">
      <div className="progress">
        <ProgressBar isChild now={work.done} max={work.total} aria-label={label} />
      </div>
      <Button variant="quiet" size="sm" onClick={work.stop}>
        stop, and leave all as it is
      </Button>
    </div>
  );
}
