import { Button, ProgressBar } from "react-bootstrap";
import { useEditing } from "../../document/useEditor";

/** How far a planning is, and the way to give it up; nothing while none is known to be under way. */
export function Planning() {
  const planning = useEditing((state) => state.planning);
  if (!planning) return null;
  return (
    <div className="planning">
      <div className="progress">
        <ProgressBar isChild now={planning.done} max={planning.total} aria-label="How far the planning is" />
      </div>
      <Button variant="quiet" size="sm" onClick={planning.stop}>
        stop, and leave all as it is
      </Button>
    </div>
  );
}
