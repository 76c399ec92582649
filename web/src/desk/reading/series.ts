import type { Sister } from "../../api/client";
import * as words from "../../words/words";

/** A doubtful sweep, and the frame it is in. */
export type Doubt = { frame: number; sweep: string };

/** All doubtful sweeps of a series, frame by frame. */
export const doubts = (series: Sister[]): Doubt[] =>
  series.flatMap((sister) => sister.doubtful.map((sweep) => ({ frame: sister.id, sweep })));

/** The doubtful sweep after the one that is chosen, or after its frame; the first after the last. */
export function nextDoubt(series: Sister[], frame: number, sweep: string | null): Doubt | undefined {
  const all = doubts(series);
  const here = all.findIndex((each) => each.frame === frame && each.sweep === sweep);
  if (here >= 0) return all[(here + 1) % all.length];
  const order = series.map((sister) => sister.id);
  const at = order.indexOf(frame);
  return all.find((each) => order.indexOf(each.frame) >= at) ?? all[0];
}

/** How many sweeps wait to be filled in some frames of a series; in all but one if none is named. */
export const waiting = (series: Sister[], frames: number[], but: number): number =>
  series
    .filter((sister) => (frames.length ? frames.includes(sister.id) : sister.id !== but))
    .reduce((total, sister) => total + sister.marked.length, 0);

/** Whether a frame shows another place: nothing can be carried to it, and nothing is wrong. */
export const elsewhere = (sister: Sister): boolean => sister.carrying === "failed" && sister.elsewhere;

/** What became in a frame of what was carried to it, in words. */
export function became(sister: Sister): string {
  if (sister.carrying === "waiting") return words.reading.carryingWaits;
  if (sister.carrying === "running") return words.reading.carryingRuns;
  if (elsewhere(sister)) return words.reading.anotherPlace;
  if (sister.carrying === "failed") return sister.error ?? words.reading.carryingFailed;
  const count = new Map<Sister["landed"][number]["verdict"], number>();
  for (const { verdict } of sister.landed) count.set(verdict, (count.get(verdict) ?? 0) + 1);
  return [...count]
    .map(([verdict, number]) => words.reading.verdict(number, words.named.verdict[verdict]))
    .join(", ");
}

/** The frames in which something landed. */
export const carriedTo = (series: Sister[]): Sister[] =>
  series.filter((sister) => sister.landed.some(({ made }) => made !== null));

/** Whether what was carried to a frame can be approved as it is: it was filled, and nobody has said yes to it. */
export const toApprove = (sister: Sister): boolean =>
  !sister.filling.length && (sister.state === "doubtful" || sister.offered.length > 0);

/** What there is to say of the frames of a contact sheet. */
export function toJudge(series: Sister[]): string {
  const open = series.filter(toApprove);
  const choose = open.filter((sister) => sister.offered.length).length;
  const unfilled = series.filter((sister) => sister.marked.length).length;
  if (!open.length && !unfilled) return words.reading.allApproved;
  return [
    open.length ? words.reading.notApproved : "",
    choose ? words.reading.stillToChoose(choose) : "",
    unfilled ? words.reading.unfilled(unfilled) : "",
  ]
    .filter(Boolean)
    .join(" ");
}

/** Sweeps that did not land in a frame since they are not where they were. */
export const missing = (sister: Sister): string[] =>
  sister.landed.filter(({ verdict }) => verdict === "not there").map(({ sweep }) => sweep);
