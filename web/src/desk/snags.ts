import type { Snag, Sweep } from "../api/client";

/** What one click does about a snag. */
export const MENDS: Record<Snag["mend"], { label: string; tip: string }> = {
  grow: { label: "Take it in, fill again", tip: "The place is added to the mark, and three takes are made" },
  grain: { label: "Regrow grain", tip: "A new take with the grain of the surroundings" },
  tone: { label: "Even out tone", tip: "A new take whose tone meets its surroundings" },
  spot: { label: "Fill this spot", tip: "Only the place is filled, as a sweep on top" },
};

/** The snags of a take that were not dismissed, the worst first. */
export const openSnags = (sweep: Sweep, take: number): Snag[] =>
  sweep.snags.filter((snag) => snag.take === take && !snag.dismissed);

/** Whether a snag cannot be seen any more at delivery size. */
export function fades(snag: Snag, frame: { width: number }, delivery: number): boolean {
  // Scales were tried by halves: between two of them the nearer one counts.
  return delivery / frame.width < snag.visible * Math.SQRT1_2;
}
