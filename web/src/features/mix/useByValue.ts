import { useMemo } from "react";
import type { SeenSpot } from "../../api/client";

const value = (spot: SeenSpot) => spot.reading?.swatch.value ?? -1;

/** The spots from the lightest to the darkest. */
export const useByValue = (spots: SeenSpot[]): SeenSpot[] =>
  useMemo(() => [...spots].sort((a, b) => value(b) - value(a)), [spots]);
