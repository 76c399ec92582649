import type { Box, Desk, Snag, Sweep } from "../../api/client";
import * as words from "../../words/words";
import { standing } from "./look";

/** What one click does about a snag. */
export const MENDS: Record<Snag["mend"], { label: string; tip: string }> = {
  grow: { label: words.reading.growMend, tip: words.reading.growMendTip },
  grain: { label: words.reading.grainMend, tip: words.reading.grainMendTip },
  tone: { label: words.reading.toneMend, tip: words.reading.toneMendTip },
  spot: { label: words.reading.spotMend, tip: words.reading.spotMendTip },
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
      return faultsOf(openSnags(sweep, stands)).map(({ worst }) => ({ sweep: sweep.id, snag: worst }));
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

/** Snags of one kind at one place: what a photographer sees as one fault. */
export type Fault = { worst: Snag; all: Snag[]; box: Box };

const union = (a: Box, b: Box): Box => {
  const [x, y] = [Math.min(a.x, b.x), Math.min(a.y, b.y)];
  const [right, bottom] = [Math.max(a.x + a.width, b.x + b.width), Math.max(a.y + a.height, b.y + b.height)];
  return { x, y, width: right - x, height: bottom - y };
};
const apart = (a: Box, b: Box) =>
  Math.max(a.x - b.x - b.width, b.x - a.x - a.width, a.y - b.y - b.height, b.y - a.y - a.height);
/** Snags of a kind that are no farther apart than their own size are one fault. */
const near = (a: Box, b: Box) =>
  apart(a, b) <= Math.max(Math.min(a.width, b.width), Math.min(a.height, b.height));

/** Snags as faults, the worst first. */
export function faultsOf(snags: Snag[]): Fault[] {
  const faults: Fault[] = [];
  for (const snag of [...snags].sort((a, b) => b.strength - a.strength)) {
    const known = faults.find(
      (each) =>
        each.worst.kind === snag.kind && each.worst.grading === snag.grading && near(each.box, snag.box),
    );
    if (known) {
      known.all.push(snag);
      known.box = union(known.box, snag.box);
    } else faults.push({ worst: snag, all: [snag], box: snag.box });
  }
  return faults;
}

/** What was tried about a snag already and did not help: it is there in a take from before as well. */
export function triedBefore(sweep: Sweep, snag: Snag): string | null {
  const take = sweep.takes.find((each) => each.id === snag.take);
  if (!take) return null;
  const older = sweep.snags.filter(
    (each) => each.take < take.id && each.kind === snag.kind && apart(each.box, snag.box) <= 0,
  );
  if (!older.length) return null;
  if (take.method === "mend") return words.reading.mendedOnce;
  const batches = new Map(sweep.takes.map((each) => [each.id, each.batch]));
  return older.some((each) => batches.get(each.take) !== take.batch) ? words.reading.filledAgain : null;
}
