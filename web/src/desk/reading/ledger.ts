import type { Sweep, Take } from "../../api/client";
import * as words from "../../words/words";

/** How a take was made, beyond its method: model or service, words, cost, and why, a line each. */
export function ledger(take: Pick<Take, "made">): string[] {
  const { model, sha256, service, hint, avoid, knobs, credits, why, sisters = [], borrowed = 0 } = take.made;
  const lines: string[] = [];
  if (sisters.length) {
    const rest = Math.round(100 * (1 - borrowed));
    lines.push(words.reading.truePixels(sisters, rest));
  }
  if (model)
    lines.push(
      [model, service ?? (sha256 && words.reading.sha256(sha256.slice(0, 12)))].filter(Boolean).join(", "),
    );
  if (model && knobs) lines.push(words.reading.knobs(knobs.steps, knobs.guidance, knobs.strength));
  if (hint) lines.push(words.reading.seenThere(hint));
  if (avoid) lines.push(words.reading.notSeen(avoid));
  if (credits) lines.push(inCredits(credits));
  if (why) lines.push(why);
  return lines;
}

export const inCredits = (credits: number) => words.units.credits(+credits.toFixed(2));

/** A time to wait, in words. */
export const inTime = (seconds: number) =>
  seconds < 90
    ? words.units.aboutSeconds(Math.max(1, Math.round(seconds)))
    : words.units.aboutMinutes(Math.round(seconds / 60));

/** The fills that the takes of a sweep came out of, the first one first. */
export const fills = (sweep: Pick<Sweep, "takes">) => [...new Set(sweep.takes.map((each) => each.batch))];

/** Which fill of its sweep a take came out of, from 1 on. */
export const fillOf = (sweep: Pick<Sweep, "takes">, take: Take) => fills(sweep).indexOf(take.batch) + 1;

/** Whether a take is the first of a later fill. */
export function opensFill(sweep: Pick<Sweep, "takes">, take: Take): boolean {
  const at = sweep.takes.indexOf(take);
  return at > 0 && sweep.takes[at - 1]?.batch !== take.batch;
}
