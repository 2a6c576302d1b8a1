import { useEffect, useState } from "react";

/** What something was when it last had stayed the same for a moment. */
export function useSettled<T>(of: T, ms: number): T {
  const [held, setHeld] = useState(of);
  useEffect(() => {
    const timer = setTimeout(() => setHeld(of), ms);
    return () => clearTimeout(timer);
  }, [of, ms]);
  return held;
}
