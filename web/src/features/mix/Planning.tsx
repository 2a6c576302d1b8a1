import { useEditing } from "../../document/useEditor";
import { HowFar } from "../../ui/HowFar";

/** How far a planning is, and the way to give it up; nothing while none is known to be under way. */
export function Planning() {
  const planning = useEditing((state) => state.planning);
  return planning && <HowFar work={planning} label="How far the planning is" />;
}
