import { useMemo, useState } from "react";
import type { Materials, Piece, Way } from "../../api/client";
import { viewUrl } from "../../api/pictures";
import { useKeys } from "../../ui/keys";

export type Compare = "whole" | "beside" | "window";
const NONE: Way[] = [];
const COMPARE: Compare[] = ["whole", "beside", "window"];

const PLAIN: Way = { id: "as_it_is", name: "As it is", amount: null };

export type Ways = {
  all: Way[];
  way: Way;
  see: (id: string) => void;
  amount: number;
  setAmount: (amount: number) => void;
  most: number;
  borders: boolean;
  setBorders: (on: boolean) => void;
  balanced: boolean;
  setBalanced: (on: boolean) => void;
  compare: Compare;
  setCompare: (how: Compare) => void;
  /** The chosen way, and the picture as it is for beside or under it. */
  url: string;
  plain: string;
};

/** Which way the reference is seen, how strongly, and beside what. */
export function useWays(piece: Piece, materials: Materials | undefined): Ways {
  const [kind, setKind] = useState(PLAIN.id);
  const [amounts, setAmounts] = useState<Record<string, number>>({});
  const [borders, setBorders] = useState(false);
  const [balancedWanted, setBalanced] = useState(false);
  const [compare, setCompare] = useState<Compare>("whole");
  const balanced = balancedWanted && piece.document.balance !== null;
  const all = materials?.ways ?? NONE;
  const way = all.find((row) => row.id === kind) ?? PLAIN;
  const most = way.amount?.most ?? 0;
  const amount = way.amount ? (amounts[kind] ?? way.amount.usual) : 0;
  const setAmount = (next: number) =>
    setAmounts((held) => ({
      ...held,
      [kind]: Math.min(most || next, Math.max(way.amount?.least ?? next, next)),
    }));

  const urls = useMemo(
    () =>
      all.map((row) =>
        viewUrl(
          piece,
          row.id,
          amounts[row.id] ?? row.amount?.usual ?? 0,
          borders && row.id === "values",
          balanced && row.id !== "values",
        ),
      ),
    [all, piece, amounts, borders, balanced],
  );

  useKeys([
    ...all.map((row, i) => ({
      key: String(i + 1),
      does: `See: ${row.name}`,
      run: () => setKind(row.id),
    })),
    { key: ",", does: "Less of this way of seeing", run: () => setAmount(amount - 1) },
    { key: ".", does: "More of this way of seeing", run: () => setAmount(amount + 1) },
    { key: "e", does: "Edges between values, on or off", run: () => setBorders(!borders) },
    { key: "b", does: "Balanced or as photographed", run: () => setBalanced(!balancedWanted) },
    {
      key: "c",
      does: "Compare: alone, side by side, through a window",
      run: () => setCompare(COMPARE[(COMPARE.indexOf(compare) + 1) % COMPARE.length] ?? "whole"),
    },
  ]);
  const url = urls[all.indexOf(way)] ?? viewUrl(piece, PLAIN.id, 0, false, false);
  const plain = urls[0] ?? "";
  return {
    all,
    way,
    see: setKind,
    amount,
    setAmount,
    most,
    borders,
    setBorders,
    balanced,
    setBalanced,
    compare: kind === "as_it_is" && !balanced ? "whole" : compare,
    setCompare,
    url,
    plain: kind === "as_it_is" ? viewUrl(piece, "as_it_is", 0, false, false) : plain,
  };
}
