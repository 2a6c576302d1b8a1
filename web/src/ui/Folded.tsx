import type { ReactNode } from "react";

/** What most need not see: folded under a word. */
export function Folded({ word, children }: { word: string; children: ReactNode }) {
  return (
    <details className="folded">
      <summary>{word}</summary>
      {children}
    </details>
  );
}
