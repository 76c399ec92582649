import type { Desk, Snag, Sweep } from "../../api/client";
import { standing } from "./look";

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

/** The snag after one, through all sweeps that show, in their order; from the chosen sweep on if there is none. */
export function snagAfter(
  desk: Pick<Desk, "sweeps">,
  selected: string | null,
  viewed: number | null,
  snag: number | null,
): { sweep: string; snag: Snag } | undefined {
  const all = desk.sweeps
    .filter((sweep) => sweep.shown)
    .flatMap((sweep) => {
      const stands = standing(sweep, sweep.id === selected ? viewed : null);
      return openSnags(sweep, stands).map((each) => ({ sweep: sweep.id, snag: each }));
    });
  const at = all.findIndex((each) => each.snag.id === snag);
  const start = at >= 0 ? at + 1 : all.findIndex((each) => each.sweep === selected);
  return all[Math.max(start, 0) % Math.max(all.length, 1)];
}

/** Whether a snag cannot be seen any more at delivery size. */
export function fades(snag: Snag, frame: { width: number }, delivery: number): boolean {
  // Scales were tried by halves: between two of them the nearer one counts.
  return delivery / frame.width < snag.visible * Math.SQRT1_2;
}
