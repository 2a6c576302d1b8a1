import type { Materials, Seeing } from "../../api/client";

export type Way = {
  kind: Seeing;
  key: string;
  name: string;
  /** What the slider sets, and from where to where; none for a way without one. */
  amount?: { from: number; usual: number; to: (materials: Materials) => number; says: string };
};

/** Ways of seeing, in the order of their keys. */
export const WAYS: Way[] = [
  { kind: "as_it_is", key: "1", name: "As it is" },
  {
    kind: "values",
    key: "2",
    name: "Values",
    amount: { from: 2, usual: 5, to: () => 9, says: "values" },
  },
  {
    kind: "squint",
    key: "3",
    name: "Squint",
    amount: { from: 1, usual: 3, to: (materials) => materials.squints, says: "squint" },
  },
  { kind: "temperature", key: "4", name: "Warm and cool" },
  {
    kind: "pushed",
    key: "5",
    name: "Hidden hues",
    amount: { from: 1, usual: 3, to: (materials) => materials.pushes.length, says: "push" },
  },
  { kind: "families", key: "6", name: "Light and shadow" },
  { kind: "skin", key: "7", name: "Skin" },
];
