import { useEffect, useState } from "react";

export const SURROUNDS = ["mid grey", "light grey", "dark grey"] as const;
export type Surround = (typeof SURROUNDS)[number];

const KEY = "caltin.surround";

function held(): Surround {
  const found = localStorage.getItem(KEY);
  return SURROUNDS.find((surround) => surround === found) ?? "mid grey";
}

/** The surround in which colours are judged; kept for next time. */
export function useSurround(): [Surround, () => void] {
  const [surround, setSurround] = useState<Surround>(held);
  useEffect(() => {
    document.documentElement.dataset.surround = surround.split(" ")[0];
    localStorage.setItem(KEY, surround);
  }, [surround]);
  return [
    surround,
    () => setSurround((now) => SURROUNDS[(SURROUNDS.indexOf(now) + 1) % SURROUNDS.length] ?? "mid grey"),
  ];
}
