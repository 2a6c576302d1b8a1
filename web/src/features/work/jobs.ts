import type { Job, SeenSpot, Sheet, Stick } from "../../api/client";

export type PickUp = {
  stick: Stick | undefined;
  code: string;
  jobs: (Job & { place: SeenSpot; number: number })[];
};

/** The pick-ups of a sheet with their sticks and spots. */
export function pickUps(sheet: Sheet, spots: SeenSpot[], sticks: Stick[]): PickUp[] {
  return sheet.pick_ups.map((pickUp) => ({
    code: pickUp.stick,
    stick: sticks.find((stick) => stick.code === pickUp.stick),
    jobs: pickUp.jobs.flatMap((job) => {
      const index = spots.findIndex((spot) => spot.id === job.spot);
      const place = spots[index];
      return place ? [{ ...job, place, number: index + 1 }] : [];
    }),
  }));
}
