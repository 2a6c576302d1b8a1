import type { Job, PieceDocument, Sheet, Spot, Stick } from "../../api/client";

export type PickUp = {
  stick: Stick | undefined;
  code: string;
  jobs: (Job & { place: Spot; number: number })[];
};

/** The pick-ups of a sheet with their sticks and spots. */
export function pickUps(sheet: Sheet, document: PieceDocument, sticks: Stick[]): PickUp[] {
  return sheet.pick_ups.map((pickUp) => ({
    code: pickUp.stick,
    stick: sticks.find((stick) => stick.code === pickUp.stick),
    jobs: pickUp.jobs.flatMap((job) => {
      const index = document.spots.findIndex((spot) => spot.id === job.spot);
      const place = document.spots[index];
      return place ? [{ ...job, place, number: index + 1 }] : [];
    }),
  }));
}

const COATS = ["", "one coat", "two coats", "three coats"];

/** How a pass is made, in words. */
export function manner(job: Job, medium: string): string {
  if (medium === "marker") {
    const coats = COATS[job.repeats] ?? `${job.repeats} coats`;
    return job.technique === "wet" ? `worked in wet, ${coats}` : `${coats}, let it dry`;
  }
  const strokes = job.repeats === 1 ? "once over" : job.repeats === 2 ? "twice over" : "three times over";
  return `${job.technique === "lay" ? "" : `${job.technique}, `}${job.pressure}, ${strokes}`;
}
