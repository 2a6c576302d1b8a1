import { useEffect, useState } from "react";

/** Whether so many milliseconds have gone by. */
export function useLater(ms: number): boolean {
  const [late, setLate] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setLate(true), ms);
    return () => clearTimeout(timer);
  }, [ms]);
  return late;
}
