import { useMemo } from "react";
import type { Spot } from "../../api/client";

const value = (spot: Spot) => spot.reading?.swatch.value ?? -1;

/** The spots from the lightest to the darkest. */
export const useByValue = (spots: Spot[]): Spot[] =>
  useMemo(() => [...spots].sort((a, b) => value(b) - value(a)), [spots]);
